#include "cart.h"
int main() {
    wheels(20, 20);
    pause(1);
    wheels(5, 5);
    while (1);
}
