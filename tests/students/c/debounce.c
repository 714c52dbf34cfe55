#include "cart.h"
int main() {
    bool stable = false, last = touched();
    double changed = seconds();
    int edges = 0;
    while (edges < 4 && seconds() < 25) {
        bool now = touched();
        if (now != last) {
            last = now;
            changed = seconds();
        }
        if (seconds() - changed > 0.03 && stable != last) {
            stable = last;
            edges++;
            wheels(edges * 10, -edges * 10);
        }
    }
    halt();
}
