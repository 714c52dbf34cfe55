#include "cart.h"
#include <math.h>
const int low = 20, high = 60;
int main() {
    bool lamp = false;
    wheels(15, 15);
    while (!touched()) {
        int level = dry();
        if (!lamp && level < low * 2.55) lamp = true;
        else if (lamp && level > high * 2.55) lamp = false;
        glow(lamp);
        aim(20 + level / 2);
    }
    wheels(sqrt(50.0), round(2.5) + floor(-2.5) + ceil(2.1) + fabs(-1.5));
    rest(100);
    wheels(pow(2, 5), sin(0.5) * 100);
    rest(100);
    halt();
}
