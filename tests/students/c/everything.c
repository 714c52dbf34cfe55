#include "cart.h"
#include <stdio.h>
using namespace std;
constexpr int N = 4;
typedef struct { int id; double x; int hits[2]; } Item;
Item items[N];
int grid[2][3] = {{1, 2, 3}, {4}};
const double PI2 = 3.14159 / 2;
static inline int sq(int v) { return v * v; }
int apply(int a[][3], int rows) { int s = 0; for (int r = 0; r < rows; r++) for (int c = 0; c < 3; c++) s += a[r][c]; return s; }
void bump(Item *it, int by) { it->hits[by % 2]++; it->x += by * 0.5; (*it).id = by; }
bool isNear(double d, double limit = 40.0) { return d >= 0 && d < limit; }
int gcd(int a, int b) { return b == 0 ? a : gcd(b, a % b); }
int main(void) {
    int i = 0, arr[5];
    while (i < 5) { arr[i] = i * 2; i++; }
    int n = 5, total = 0;
    while (n-- > 0) total += arr[n];
    wheels(total, sq(i));
    rest(100);
    for (int k = 0; k < N; k++) { bump(&items[k], k); bump(&items[k], k + 1); }
    wheels(items[3].hits[0] * 10 + items[3].id, items[2].x);
    rest(100);
    wheels(grid[0][1] + grid[1][0] + grid[1][2], gcd(48, 36));
    rest(100);
    auto d = gap();
    if (isNear(d) || !isNear(d, 500)) wheels(1, 2); else wheels(3, 4);
    rest(100);
    int mask = 0;
    mask |= 1 << 3; mask ^= 0xF; mask &= ~2; mask <<= 2; mask >>= 1;
    wheels(mask, mask % 5);
    rest(100);
    unsigned int t = 4000000000u;
    wheels(t / 100000000, (int) (t >> 28));
    rest(100);
    long long big = 1LL << 40;
    wheels(big % 97, (big / 1000000007) % 50);
    rest(100);
    float f = 16777217; double g = 0.1f;
    wheels(f == 16777216 ? 5 : 6, g == 0.1 ? 7 : 8);
    rest(100);
    int x = 10, y = 3;
    wheels(x++ - --y, x += y *= 2);
    rest(100);
    wheels(x > y ? x : y, !x + !!y);
    rest(100);
    if (x) if (y == 99) wheels(1, 1); else wheels(9, 9);
    rest(100);
    char letters[] = "hey";
    const char *p = letters;
    int sum = 0;
    for (int k = 0; p[k] != '\0'; k++) sum += p[k];
    wheels(sum % 100, letters[1] - 'a');
    rest(100);
    int q = 7;
    do { if (q == 3) break; q--; if (q % 2) continue; wheels(q, -q); rest(50); } while (q > 0);
    switch (q) { case 1 + 2: { int z = 4; wheels(z, z); } break; case 9: default: wheels(8, 8); }
    rest(50);
    printf("%d %s %5.1f %c %x %%\n", q, letters, 2.25, 'z', 255);
    while (gap() > 100) ;
    halt();
    wheels(50, 50);
    return 0;
}
