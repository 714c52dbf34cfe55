#include "barrow.h"
#define ASKED 634
#define NEAR 40
#define FAST 45
#define SLOW 20

enum State { WAITING, FAR, CLOSE, DONE };

int main() {
    enum State state = WAITING;
    int steady = 0;
    while (state != DONE) {
        switch (state) {
            case WAITING:
                steady = knob_turn() > ASKED ? steady + 1 : 0;
                if (steady == 6) { roll(FAST, FAST); state = FAR; }
                break;
            case FAR: {
                double gap = ahead();
                if (gap >= 0 && gap < NEAR) { roll(SLOW, SLOW); state = CLOSE; }
                break;
            }
            case CLOSE:
                if (!bumped()) break;
                park();
                pour(80);
                rest(1500);
                pour(0);
                state = DONE;
                break;
            default:
                break;
        }
        rest(10);
    }
    return 0;
}
