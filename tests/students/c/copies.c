#include "cart.h"
typedef struct { int v[3]; struct { double w; char c; } in; } Box;
Box boxes[2], saved;
static int grid[3][4];
static void fill(int g[][4], int rows, int seed) { for (int r = 0; r < rows; r++) for (int c = 0; c < 4; c++) g[r][c] = seed++ * (c + 1); }

Box make(int a) { Box b = { { a, a + 1, a + 2 }, { a * 0.5, 'k' } }; return b; }
void grow(Box *b) { b->v[1]++; ++b->v[2]; b->v[0] += b->v[1]-- * 2; b->in.w *= 2; b->in.c++; }
int main() {
    boxes[0] = make(3);
    saved = boxes[0];
    grow(&boxes[0]);
    wheels(boxes[0].v[0], boxes[0].v[1] * 10 + boxes[0].v[2]); rest(40);
    wheels(saved.v[0] * 10, saved.in.w * 10); rest(40);
    wheels(boxes[0].in.c - 'a', boxes[0].in.w * 10); rest(40);
    boxes[1] = boxes[0]; boxes[1].v[0] = 1;
    wheels(boxes[0].v[0], boxes[1].v[0]); rest(40);
    fill(grid, 3, 1);
    wheels(grid[2][3], grid[1][0]); rest(40);
    int i = 0, a[5] = { 0 };
    a[i++] = 1; a[i++] += 2; a[++i] -= 3;
    wheels(a[0] * 10 + a[1], a[3]); rest(40);
    unsigned char u = 200; u += 100; u <<= 1; u |= 1;
    wheels(u, u > 100 ? -1 : 1); rest(40);
    char c = 100; c += 100;
    wheels(c, c < 0); rest(40);
    int n = 5;

    wheels(sizeof(grid) / sizeof(grid[0]), sizeof(Box) > 8); rest(40);
    for (int x = 0, y = 5; x < 5 && y; x++, y--) { if (x == 2) continue; wheels(x * 10, y * 10); rest(20); }
    int k = 0;
    do { k++; if (k == 2) continue; if (k > 4) break; wheels(k, -k); rest(20); } while (k < 10);
    switch (k) { default: wheels(1, 1); rest(20); case 7: wheels(2, 2); rest(20); break; case 9: wheels(3, 3); }
    int hits = 0;
    if (hits++ || hits++ || hits++) hits += 10;
    if (hits++ && 0 && hits++) hits += 100;
    wheels(hits, !hits); rest(20);
    unsigned int ui = 1; int si = -2;
    wheels(ui + si > 0 ? 5 : 6, (int)(ui + si) > 0 ? 5 : 6); rest(20);
    wheels((char) 300, (unsigned char) -1 % 60); rest(20);
    double d = 5 / 2; float f = 5 / 2.f; int t = 2.99 + 2.99;
    wheels(d * 10, f * 10); rest(20);
    wheels(t, (int) 2.99 + (int) 2.99); rest(20);
    int m = -1; wheels(m >> 3, (unsigned) m >> 30); rest(20);
    halt();
}
