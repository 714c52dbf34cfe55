#include "barrow.h"

int main() {
    int steady = 0;
again:
    steady = knob_turn() > 634 ? steady + 1 : 0;
    rest(10);
    if (steady < 6) goto again;
    roll(45, 45);
    flash_lights(3);
    while (!bumped());
    park();
}
