#include "cart.h"
#define WAIT_UNTIL(cond, ms) do { int left_ = (ms); while (!(cond) && left_ > 0) { rest(10); left_ -= 10; } } while (0)
#define MAX(a, b) ((a) > (b) ? (a) : (b))
#ifdef DEBUG
#define LOG(x) printf(x)
#else
#define LOG(x)
#endif
int fact(int n) { return n <= 1 ? 1 : n * fact(n - 1); }
static int calls(void) { static int n; return ++n; }
int main() {
    WAIT_UNTIL(dose() > 600, 2000);
    LOG("x");
    wheels(MAX(30, calls()), MAX(calls(), calls()));
    WAIT_UNTIL(touched(), 12000);
    halt();
    wheels(fact(5) / 2, calls());
    rest(100);
    for (int i = 0, j = 10; i < j; i++, j -= 2) { wheels(i, j); rest(20); }
    int i = 0;
    for (;;) { if (++i > 5) break; if (i == 3) continue; wheels(i * 10, i); rest(20); }
    while (i) { i -= 2; if (i < 0) i = 0; }
    if (i) ; else wheels(1, 2);
    rest(20);
    halt();
}
