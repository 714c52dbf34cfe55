#include "cart.h"
struct Step { int left; int right; double time; };
const struct Step steps[] = { {30, 30, 0.5}, {30, -30, 0.4}, {-20, -20, 1}, {0, 0, 0.25} };
int main() {
    int n = sizeof(steps) / sizeof(steps[0]);
    for (int round = 0; round < 2; ++round)
        for (int i = 0; i < n; i++) {
            wheels(steps[i].left, steps[i].right);
            pause(steps[i].time);
        }
    int moves[3][2] = { {1, 2}, {3, 4} };
    moves[2][0] = moves[1][1] * 5;
    moves[2][1] += 7;
    for (int r = 0; r < 3; r++) { wheels(moves[r][0], moves[r][1]); rest(10 * moves[r][0]); }
    halt();
}
