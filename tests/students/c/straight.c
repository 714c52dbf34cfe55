#include "cart.h"

int main() {
    while (dose() < 634) rest(20);
    wheels(45, 45);
    while (gap() > 40 || gap() < 0)
        ;
    wheels(20, 20);
    while (!touched()) {
    }
    halt();
    spray(204);
    pause(1.5);
    spray(0);
    return 0;
}
