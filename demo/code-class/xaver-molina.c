#include "barrow.h"

int main() {
    int steady = 0
    while (steady < 6) {
        steady = knob_turn() > 634 ? steady + 1 : 0;
        rest(10);
    }
    roll(45, 45);
    while (!bumped());
    park();
}
