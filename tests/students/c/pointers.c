#include "cart.h"
void swap(int *a, int *b) { int t = *a; *a = *b; *b = t; }
void clamp(double &v, double low, double high) { if (v < low) v = low; if (v > high) v = high; }
void fill(int values[], int n) { for (int i = 0; i < n; i++) values[i] = i * i; }
int sum(const int *values, int n) { int s = 0; while (n > 0) s += values[--n]; return s; }
struct Pose { double x, y; };
void move(struct Pose *p, double dx) { p->x += dx; p->y -= dx / 2; }
struct Pose mirrored(struct Pose p) { p.x = -p.x; return p; }
int main() {
    int a = 11, b = 22;
    swap(&a, &b);
    wheels(a, b);
    rest(100);
    double v = 75;
    clamp(v, -50, 50);
    wheels(v, -v);
    rest(100);
    int numbers[6];
    fill(numbers, 6);
    swap(&numbers[0], &numbers[5]);
    wheels(numbers[0], sum(numbers, 6));
    rest(100);
    struct Pose p = {1, 2};
    for (int i = 0; i < 4; i++) move(&p, 5);
    struct Pose q = mirrored(p);
    wheels(p.x, q.x);
    rest(100);
    wheels(q.y, p.y);
    rest(100);
}
