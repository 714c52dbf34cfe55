#include "cart.h"
int main() {
    int values[] = { 7 / 2, -7 / 2, 7 % 3, -7 % 3, 1 << 5, (int)-3.7, (int)3.99, 5 & 3, 5 | 3, 5 ^ 3, ~5, -5 >> 1, 017, 0x1F };
    for (int i = 0; i < 14; i++) { wheels(values[i], i); rest(100); }
    unsigned char small = 250;
    for (int i = 0; i < 8; i++) { small += 2; wheels(small % 50, small / 10); rest(20); }
    unsigned int u = 3;
    u = u - 5;
    wheels(u % 97, u > 100 ? 1 : 2);
    rest(20);
    int s = -1;
    if (s < u) wheels(11, 12); else wheels(13, 14);
    rest(20);
    short h = 32767;
    h++;
    wheels(h % 100, h / 1000);
    rest(20);
    int big = 2147483647;
    big = big + 1;
    wheels(big % 100, big / 100000000);
    rest(20);
    long total = 0;
    for (int i = 1; i <= 30; i++) total = total * 3 + i;
    double x = 7 / 2 + 7 / 2.0;
    float f = 0.1f;
    double g = f * 3;
    wheels(x * 3, g * 10);
    rest(20);
    char c = 'A';
    c += 2;
    wheels(c, c == 'C' ? 7 : 8);
    rest(20);
    int a = 5, b = a++ + ++a;
    wheels(a, b);
    rest(20);
    a += b -= 3;
    wheels(a, b);
    rest(20);
    bool flag = 3.2;
    wheels(flag, flag + flag);
    rest(20);
}
