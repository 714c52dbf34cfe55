#include "barrow.h"

int main(void) {
    unsigned long since = 0;
    int steady = 0;

    /* the knob must stay past 62 % for 50 ms */
    while (!steady) {
        if (knob_turn() > 634) {
            if (since == 0) since = ticking();
            if (ticking() - since >= 50) steady = 1;
        } else {
            since = 0;
        }
        rest(10);
    }

    roll(45, 45);
    double gap;
    do {
        gap = ahead();
    } while (gap < 0 || gap >= 40);
    roll(20, 20);
    while (!bumped()) {
    }
    park();
    pour(80);
    rest(1500);
    pour(0);
    return 0;
}
