#include "barrow.h"

static int steady = 0;

static void waitForKnob(void) {
    while (steady < 6) {
        if (knob_turn() > 634) steady++;
        else steady = 0;
        rest(10);
    }
}

static void waterFor(int time) {
    pour(80);
    rest(time);
    pour(0);
}

int main() {
    waitForKnob();
    roll(45, 45);
    int near = 0;
    while (!near) {
        double gap = ahead();
        near = gap > 0 && gap < 40;
    }
    roll(20, 20);
    while (bumped() == false) {
        rest(5);
    }
    park();
    waterFor(1500);
    return 0;
}
