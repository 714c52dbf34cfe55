/* Group 7 -- docking */
#include "cart.h"
#include <stdbool.h>
#include <stdint.h>

#define FAST   45
#define SLOW   20
#define NEAR_CM 40.0f

typedef enum {
    ST_WAIT = 0,
    ST_FAST,
    ST_SLOW,
    ST_WATER,
    ST_DONE
} State;

typedef struct {
    State    state;
    uint32_t since_ms;
    bool     first;
} Machine;

static uint32_t now_ms(void) { return (uint32_t)(seconds() * 1000.0 + 0.5); }

static void enter(Machine *m, State s)
{
    m->state = s;
    m->since_ms = now_ms();
    m->first = true;
}

static bool elapsed(const Machine *m, uint32_t ms)
{
    return now_ms() - m->since_ms >= ms;
}

int main(void)
{
    Machine m = { ST_WAIT, 0, true };
    enter(&m, ST_WAIT);
    while (m.state != ST_DONE)
    {
        const bool first = m.first;
        m.first = false;
        switch (m.state)
        {
        case ST_WAIT:
            if (dose() > 634) enter(&m, ST_FAST);
            break;
        case ST_FAST:
            if (first) wheels(FAST, FAST);
            {
                float d = (float)gap();
                if (d > 0 && d < NEAR_CM) enter(&m, ST_SLOW);
            }
            break;
        case ST_SLOW:
            if (first) wheels(SLOW, SLOW);
            if (touched()) { halt(); enter(&m, ST_WATER); }
            break;
        case ST_WATER:
            if (first) spray(204);
            if (elapsed(&m, 1500u)) { spray(0); enter(&m, ST_DONE); }
            break;
        default:
            break;
        }
        rest(5);
    }
    return 0;
}
