#include "cart.h"
#include <stdbool.h>
enum State { START, FAR, NEAR, WATER, DONE };
enum State state = START;
double t0;
int main(void) {
    for (;;) {
        switch (state) {
        case START:
            if (dose() > 634) {
                wheels(45, 45);
                state = FAR;
            }
            break;
        case FAR: {
            double d = gap();
            if (d > 0 && d < 40) { wheels(20, 20); state = NEAR; }
            break;
        }
        case NEAR:
            if (!touched()) break;
            halt();
            state = WATER;
            t0 = seconds();
            spray(204);
            /* falls through */
        case WATER:
            if (seconds() - t0 >= 1.5) { spray(0); state = DONE; }
            break;
        default:
            return 0;
        }
    }
}
