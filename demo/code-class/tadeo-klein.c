#include "barrow.h"

int main() {
    int steady = 0;
    while (steady < 6) {
        steady = knob_turn() > 634 ? steady + 1 : 0;
        rest(10);
    }
    roll(45, 45);
    double gap = ahead();
    while (gap < 0 || gap > 40);
        gap = ahead();
    roll(20, 20);
    while (!bumped());
    park();
    pour(80);
    rest(1500);
    pour(0);
}
