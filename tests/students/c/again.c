#include "cart.h"
static int mode = 0;
int presses;
bool before;
void look() {
    bool now = touched();
    if (now && !before) {
        presses++;
        mode = (mode + 1) % 3;
    }
    before = now;
}
int main() {
    while (presses < 3) {
        look();
        switch (mode) {
            case 0: wheels(0, 0); break;
            case 1: wheels(30, 30); break;
            case 2: wheels(-30, 30);
        }
        rest(20);
    }
    halt();
}
