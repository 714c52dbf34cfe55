#include "cart.h"
double last, start;
int on = 0;
int main() {
    last = seconds();
    start = seconds();
    while (seconds() - start < 6.0) {
        if (seconds() - last >= 0.25) {
            last = seconds();
            on = 1 - on;
            glow(on);
        }
        if (touched()) halt();
        else wheels(25, 25);
    }
    return 0;
}
