#include "cart.h"
float target = 25, integral = 0, previous = 0;
float limit(float v, float most) { return v > most ? most : v < -most ? -most : v; }
int main() {
    while (seconds() < 12) {
        float g = gap();
        float error = g < 0 ? previous : g - target;
        integral = limit(integral + error * 0.05f, 50);
        float drive = 1.2f * error + 0.1f * integral + 0.5f * (error - previous);
        previous = error;
        drive = limit(drive, 60);
        wheels(drive, drive - bright() / 100);
    }
    halt();
}
