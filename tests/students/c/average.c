#include "cart.h"
#define SIZE 5
float window[SIZE];
int filled = 0, next = 0;

float smooth(float value) {
    window[next] = value;
    next = (next + 1) % SIZE;
    if (filled < SIZE) filled++;
    float sum = 0;
    for (int i = 0; i < filled; i++) sum += window[i];
    return sum / filled;
}

int main() {
    wheels(50, 50);
    while (true) {
        float g = gap();
        if (g == -1) continue;
        float m = smooth(g);
        if (m < 30) break;
        float speed = m - 10;
        if (speed > 50) speed = 50;
        if (speed < 15) speed = 15;
        wheels(speed, speed);
        pause(0.05);
    }
    halt();
}
