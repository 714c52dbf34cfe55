#include "barrow.h"

int main() {
    int steady = 0;
    while (steady < 6) {
        steady = knob_turn() > 634 ? steady + 1 : 0;
        rest(10);
    }
    roll(45, 45);
    int pressed = 0;
    while (1) {
        double gap = ahead();
        if (gap > 0 && gap < 40) roll(20, 20);
        if (pressed = bumped()) break;
    }
    park();
    pour(8 / 10 * 100);
    rest(1500);
    pour(0);
}
