#include "cart.h"
int main() {
    for (int i = 0;; i++) {
        wheels(i % 40, 5);
        if (i > 300) break;
        if (i % 7 == 0) continue;
    }
    int n = 0;
    for (; n < 50;) {
        if (touched() || n % 5) n++;
        else n += 2;
    }
    wheels(n, n);
    rest(10);
    halt();
}
