#include "cart.h"
int square(int n) {
    if (n == 0) return 0;
    wheels(30, 30);
    pause(0.2);
    wheels(30, -30);
    pause(0.1);
    return 1 + square(n - 1);
}
long fact(int n) { return n < 2 ? 1 : n * fact(n - 1); }
int main() {
    int total = square(4);
    wheels(fact(4), total * 10);
    pause(0.5);
    halt();
}
