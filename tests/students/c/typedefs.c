#include "cart.h"
#include <stdint.h>
typedef unsigned char byte_t;
typedef struct { int16_t left, right; uint8_t turns[4]; } Plan;
typedef enum { SLOW = 10, FAST = 50, FASTER } Pace;
Plan plan = { -100, 300, {1, 2} };
Plan other;
int main() {
    other = plan;
    other.left = 25000 * 2;
    other.turns[3] = 260;
    plan.turns[0]--;
    plan.turns[0]--;
    byte_t b = 5 - 6;
    Pace pace = FASTER;
    wheels(other.left % 77, other.turns[3]);
    rest(100);
    wheels(plan.turns[0] % 60, plan.right / 10);
    rest(100);
    wheels(pace, b / 5);
    rest(100);
    {
        int pace = 3;
        wheels(pace, SLOW);
        rest(100);
    }
    wheels(pace, (int)(pace / 7.0 * 3) + (pace > FAST) * 4);
    rest(100);
}
