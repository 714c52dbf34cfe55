#include "cart.h"
#define LIMIT 40
#define SLOW (LIMIT / 2)
#define ABS(x) ((x) < 0 ? -(x) : (x))
#define BOTH(p) wheels((p), (p))
#define DEBUG
#ifdef DEBUG
#define STEP 50
#else
#define STEP 10
#endif
#ifndef NOTHING
const int EXTRA = 3;
#endif
// a comment with LIMIT and "quotes
int main() {
    BOTH(SLOW);
    rest(STEP);
    int k = -7;
    BOTH(ABS(k) + EXTRA);
    rest(STEP * 2);
    while (gap() > LIMIT) BOTH(LIMIT - 5);
    halt();
}
