#include "cart.h"
int main() {
    while (!touched()) {
        while (gap() > 60) {
            wheels(50, 50);
            if (touched()) break;
        }
        int steps = 0;
        while (steps < 5) {
            wheels(10 + steps, 10);
            steps++;
            if (scraped()) break;
        }
        wheels(20, 20);
    }
    halt();
    for (int i = 0; i < 5; i++)
        for (int j = 0; j < 2; j++) {
            if ((i + j) % 2 == 0) continue;
            switch (i) {
                case 1: continue;
                case 3: wheels(99, 99);
                case 4: wheels(i, j); break;
                default: wheels(-i, -j);
            }
            rest(100);
        }
}
