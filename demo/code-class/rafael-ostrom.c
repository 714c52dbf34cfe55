#include "barrow.h"

int main() {
    while (knob_turn() < 634) rest(10);
    roll(45, 45);
    while (ahead() > 40);
    roll(20, 20);
    while (!bumped());
    park();
    pour(80);
    rest(1500);
    pour(0);
}
