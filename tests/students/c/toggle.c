#include "cart.h"
bool was = false;
int count = 0;
bool on = false;
int main() {
    int i;
    for (i = 0; i < 400; i++) {
        bool is = touched() || scraped();
        if (is && !was) {
            ++count;
            on = !on;
            glow(on ? 1 : 0);
        }
        was = is;
        if (count >= 3) { halt(); break; }
        wheels(10 * (count + 1), 10 * (count + 1));
        rest(50);
    }
    if (i == 400) {
        wheels(-10, -10);
        pause(1);
        halt();
    }
    return 0;
}
