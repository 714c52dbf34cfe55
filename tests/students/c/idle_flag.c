#include "cart.h"
bool done = false;
int main() {
    while (true) {
        if (!done) {
            wheels(30, 30);
            if (touched()) { wheels(0, 0); done = true; }
        }
    }
}
