#include "cart.h"
int speeds[3] = {10, 20, 0};
int main() {
    for (int i = 0; i < 3; i++) {
        wheels(100 / (speeds[i] / 10 + 1), 5);
        rest(200);
        wheels(100 / speeds[i], 5);
        rest(200);
    }
    halt();
}
