#include "cart.h"
#include <string.h>
const char *program = "FFLRBF";
const char *names[] = {"go", "slow", "go"};
char letter(int i) { return program[i]; }
int main() {
    for (int i = 0; i < (int)strlen(program); i++) {
        switch (letter(i)) {
            case 'F': wheels(30, 30); break;
            case 'B': wheels(-30, -30); break;
            case 'L': wheels(-20, 20); break;
            case 'R': wheels(20, -20); break;
        }
        rest(200);
    }
    for (int i = 0; i < 3; i++) {
        wheels(strcmp(names[i], "go") == 0 ? 40 : 15, 0);
        rest(50);
    }
    for (int i = 0; program[i]; i++) wheels(program[i] - 'A', i);
    rest(30);
    halt();
}
