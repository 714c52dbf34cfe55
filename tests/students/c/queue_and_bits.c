#include "cart.h"
#define QSIZE 4
static int queue[QSIZE];
static int qhead, qtail, qcount;
static int put(int v) { if (qcount == QSIZE) return 0; queue[qtail] = v; qtail = (qtail + 1) % QSIZE; qcount++; return 1; }
static int take(int *v) { if (!qcount) return 0; *v = queue[qhead]; qhead = (qhead + 1) % QSIZE; --qcount; return 1; }
static int checksum(const int *p, int n) { int s = 0; for (int i = 0; i < n; i++) s ^= p[i] << (i & 3); return s & 0x3F; }
int main(void) {
    int v = 0, lost = 0;
    for (int i = 0; i < 6; i++) if (!put(i * 7)) lost++;
    while (take(&v)) { wheels(v, lost); rest(40); }
    int data[] = {1, 2, 3, 4, 5};
    wheels(checksum(data, 5), sizeof(data) / sizeof(int)); rest(40);
    unsigned int mask = 0x80;
    int n = 0;
    for (; mask; mask >>= 1) n += (0xA5 & mask) != 0;
    wheels(n * 10, !mask); rest(40);
    int a = 3, b = 4;
    a ^= b; b ^= a; a ^= b;
    wheels(a * 10, b * 10); rest(40);
    int neg = -17;
    wheels(neg % 5, neg / 5); rest(40);
    wheels(neg & 7, (unsigned char) neg % 50); rest(40);
    int x = 5;
    x = x > 3 ? x < 10 ? 1 : 2 : 3;
    wheels(x, x == 1 && (x = 9) ? x : 0); rest(40);
    if (!(x = 0)) wheels(7, 7);
    rest(40);
    const double table[2][3] = {{1.5, 2.5, 3.5}, {4}};
    wheels(table[0][1] * 4, table[1][2] + 1); rest(40);
    halt();
    return 0;
}
