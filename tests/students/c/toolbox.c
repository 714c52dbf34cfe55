#include "cart.h"
#include <stdio.h>
#include <stdlib.h>
#include <math.h>
#define N 5
#define SQ(x) ((x) * (x))
#define ARRAY_LEN(a) (sizeof(a) / sizeof((a)[0]))
enum { LEFT = -1, NONE, RIGHT };
typedef unsigned int uint;
static const int table[][2] = { {10, 20}, {30, -30}, {0, 5} };
static int compare(int a, int b) { return (a > b) - (a < b); }
static double average(const double *v, int n) {
    double s = 0;
    for (int i = 0; i < n; i++) s += v[i];
    return n > 0 ? s / n : 0;
}
int main(void) {
    double v[N] = {0};
    int i, good = 0;
    for (i = 0; i < N; i++) {
        double d = gap();
        if (d < 0) continue;
        v[good++] = d;
        rest(20);
    }
    wheels(average(v, good) / 4, good);
    rest(200);
    for (uint k = 0; k < ARRAY_LEN(table); k++) { wheels(table[k][0], table[k][1]); rest(50 * (k + 1)); }
    wheels(SQ(3 + 1), compare(3, 7) * 10); rest(50);
    int dir = RIGHT;
    if (dir == LEFT) wheels(1, 1);
    else if (dir == NONE) wheels(2, 2);
    else { wheels(3, 3); }
    rest(50);
    float f = 0.1f + 0.2f;
    wheels(f == 0.3f, f == 0.3); rest(50);
    int x = 17; x /= 5; x *= x; x -= 2; x %= 4; x <<= 2; x |= 1; x ^= 3;
    wheels(x, ~x); rest(50);
    unsigned char level = 0;
    do { level += 60; wheels(level / 4, level % 7); rest(20); } while (level < 200);
    wheels(pow(2, 5), sqrt(144.0)); rest(50);
    wheels(floor(-2.5) * 10, ceil(2.1) * 10); rest(50);
    wheels((int) round(2.5) * 10, lround(3.5) * 10); rest(50);
    bool b = x && !(touched()) && seconds() < 100;
    wheels(b, b == true); rest(50);
    printf("%d\n", x);
    halt();
    return EXIT_SUCCESS;
}
