#include "cart.h"
int main() {
    int tries = 0;
    do {
        wheels(10 + tries, 10);
        rest(100);
        tries++;
        if (tries == 3) continue;
        wheels(tries, -tries);
    } while (tries < 5);
    do {
        wheels(30, 30);
    } while (!touched());
    halt();
    do ; while (seconds() < 20);
    wheels(1, 2);
    rest(10);
}
