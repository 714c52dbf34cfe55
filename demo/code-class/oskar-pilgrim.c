#include "barrow.h"

Wheel leftWheel("M1"), rightWheel("M2");

struct Leg { int share; };
const struct Leg legs[] = { {45}, {20} };

void drive(int share) {
    leftWheel.spin(share);
    rightWheel.spin(share);
}

bool knobHeld(int times) {
    for (int i = 0; i < times; i++) {
        if (knob_turn() <= 634) return false;
        rest(10);
    }
    return true;
}

int main() {
    while (!knobHeld(6)) rest(10);
    for (unsigned int leg = 0; leg < sizeof(legs) / sizeof(legs[0]); leg++) {
        drive(legs[leg].share);
        if (leg == 0) {
            for (;;) {
                double gap = ahead();
                if (gap >= 0 && gap < 40) break;
            }
        } else {
            while (!bumped());
        }
    }
    leftWheel.hold();
    rightWheel.hold();
    pour(80);
    rest(1500);
    pour(0);
}
