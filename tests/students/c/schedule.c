#include "cart.h"
#include <stdlib.h>
#include <stdbool.h>
#define NUM_STEPS (sizeof(steps) / sizeof(steps[0]))
#define DEG_TO_MS(d) ((unsigned)((d) * 1000UL / 180))
#if defined(FAST) && 0
#define SPEED 60
#elif 1
#define SPEED 30
#else
#define SPEED 10
#endif
typedef struct step_s { unsigned long at; signed char l, r; } step_t;
static const step_t steps[] = { {0, 20, 20}, {1000, 40, 20}, {2500, 0, 0}, {3000, -20, -20}, {4000, 0, 0} };
static unsigned long millis_(void) { return (unsigned long)(seconds() * 1000.0 + 0.5); }
static void turn(int deg) {
    const int s = deg > 0 ? -1 : 1;
    wheels(s * SPEED, -s * SPEED);
    rest(DEG_TO_MS(abs(deg)));
    halt();
}
int main(void) {
    size_t i = 0;
    const unsigned long t0 = millis_();
    while (i < NUM_STEPS) {
        if (millis_() - t0 < steps[i].at) { rest(10); continue; }
        wheels(steps[i].l, steps[i].r);
        ++i;
    }
    turn(90); turn(-45);
    return 0;
}
