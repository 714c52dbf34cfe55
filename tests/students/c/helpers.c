#include "cart.h"
double readGap(int times = 3) {
    double best = -1;
    for (int k = 0; k < times; k++) {
        double d = gap();
        if (d > 0 && (best < 0 || d < best)) best = d;
    }
    return best < 0 ? 200.0 : best;
}
int speedFor(double distance) {
    if (distance > 100) return 60;
    else if (distance > 40) return 40;
    return 20;
}
int main() {
    while (readGap() > 20) {
        int s = speedFor(readGap(2));
        wheels(s, s);
        rest(30);
    }
    halt();
    return 0;
}
