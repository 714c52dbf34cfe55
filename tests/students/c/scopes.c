#include "cart.h"
int x = 1;
void scope(void) { int x = 2; { int x = 3; wheels(x, 0); rest(20); } wheels(x, 0); rest(20); for (int x = 7; x < 8; x++) wheels(x, 1); rest(20); }
int counter(void) { static int n = 10; { static int n = 100; n++; if (n > 101) return n % 50; } return n++; }
const char *name(int k) { switch (k) { case 0: return "zero"; case 1: return "one"; } return "many"; }
float half(int v) { return v / 2; }
double third(double v) { return v / 3; }
int trunc_(double v) { return v; }
unsigned char low(int v) { return v; }
bool odd(int v) { return v & 1; }
bool any(int v) { return v; }
void nothing() {}
int main() {
    scope();
    wheels(x, counter()); rest(20);
    wheels(counter(), counter()); rest(20);
    call(name(0)); call(name(1)); call(name(5));
    wheels(half(5) * 10, third(10)); rest(20);
    wheels(trunc_(-3.7), low(300)); rest(20);
    wheels(odd(3) + odd(4), any(256)); rest(20);
    nothing();
    int a = 1, b = 2, c;
    c = a = b = 5;
    wheels(a + b + c, (a, b, c)); rest(20);
    float sum = 0; for (int i = 0; i < 10; i++) sum += 0.1f;
    double dsum = 0; for (int i = 0; i < 10; i++) dsum += 0.1;
    wheels(sum == 1.0f, dsum == 1.0); rest(20);
    wheels((sum - 1) * 1e8, 0.1f > 0.1); rest(20);
    long l = 100000L * 10; short s = l;
    wheels(s % 100, l / 100000); rest(20);
    int w = 3; while (w) { w--; if (w == 1) { wheels(w, 9); rest(20); } }
    if (w = 4) wheels(w, 4);
    rest(20);
    unsigned z = 0; z--; wheels(z > 5, z == 4294967295u); rest(20);
    halt();
}
