#include "cart.h"
static int pressed = 0;
void count(void) { ++pressed; }
int main() {
    when_pressed("D1", count);
    for (;;) {
        pause(1);
        glow(pressed % 2);
        if (pressed > 1 || seconds() > 25) break;
    }
    when_pressed("D1", 0);
    for (int k = 0; k < 3; k++) { wheels(k * 10, pressed * 10); pause(0.2); }
    halt();
    while (true) { }
}
