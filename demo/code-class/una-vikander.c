#include "barrow.h"

int main() {
    int seconds = 40;
    while (knob_turn() < 634) rest(10);
    rest(60);
    roll(45, 45);
    while (ahead() > 40 || ahead() < 0) rest(10);
    roll(20, 20);
    while (!bumped()) rest(10);
    park();
    pour(80);
    rest(seconds * 1000);
    pour(0);
}
