#include "cart.h"
#include <stdbool.h>
#define N 8
static int heap[N], size;
static void swap(int *a, int *b) { int t = *a; *a = *b; *b = t; }
static void push(int v) { int i = size++; heap[i] = v; while (i > 0 && heap[(i - 1) / 2] > heap[i]) { swap(&heap[(i - 1) / 2], &heap[i]); i = (i - 1) / 2; } }
static int pop(void) {
    int top = heap[0], i = 0;
    heap[0] = heap[--size];
    for (;;) {
        int l = 2 * i + 1, r = l + 1, m = i;
        if (l < size && heap[l] < heap[m]) m = l;
        if (r < size && heap[r] < heap[m]) m = r;
        if (m == i) return top;
        swap(&heap[i], &heap[m]);
        i = m;
    }
}
static bool prime[60];
static void sieve(void) { for (int i = 2; i < 60; i++) prime[i] = true; for (int i = 2; i * i < 60; i++) if (prime[i]) for (int j = i * i; j < 60; j += i) prime[j] = false; }
static long fib(int n) { static long memo[50]; if (n < 2) return n; if (memo[n]) return memo[n]; return memo[n] = fib(n - 1) + fib(n - 2); }
static double newton(double a) { double x = a; while (x * x - a > 1e-9 || a - x * x > 1e-9) x = (x + a / x) / 2; return x; }
static int ack(int m, int n) { return m == 0 ? n + 1 : n == 0 ? ack(m - 1, 1) : ack(m - 1, ack(m, n - 1)); }
int main(void) {
    const int in[] = { 5, 3, 9, 1, 7, 2 };
    for (unsigned i = 0; i < sizeof in / sizeof *in; i++) push(in[i] * 5);
    while (size) { wheels(pop(), size); rest(30); }
    sieve();
    int count = 0; for (int i = 0; i < 60; ++i) count += prime[i];
    wheels(count, fib(40) % 97); rest(30);
    wheels(newton(50) * 10, ack(2, 3)); rest(30);
    int bits = 0; for (unsigned v = 0xF0F1; v; v &= v - 1) bits++;
    wheels(bits * 10, bits ^ 0x2A); rest(30);
    char text[] = "racecar"; int pal = 1;
    for (int i = 0, j = sizeof text - 2; i < j; i++, j--) if (text[i] != text[j]) pal = 0;
    wheels(pal * 10, text[3] - 'a'); rest(30);
    int year = 2024, leap = (year % 4 == 0 && year % 100 != 0) || year % 400 == 0;
    wheels(leap * 10, year / 100); rest(30);
    halt();
}
