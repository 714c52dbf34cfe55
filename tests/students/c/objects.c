#include "cart.h"
Motor leftMotor("M1"), rightMotor("M2");
Motor pump("M3");
int moves = 0;
void go(double factor) {
    leftMotor.power(44 * factor);
    rightMotor.power(44 * factor);
    moves++;
}
void stopAll() { leftMotor.stop(); rightMotor.stop(); }
int main() {
    go(1);
    while (!touched()) {
        double d = gap();
        go(d > 0 && d < 40 ? 0.25 : 0.5);
    }
    stopAll();
    pump.power(moves % 100);
    pause(0.7);
    pump.stop();
}
