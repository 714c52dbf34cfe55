#include "cart.h"
#include <string.h>
int count;
int main() {
    while (count < 200) {
        const char *word = heard();
        if (word != NULL && strcmp(word, "go") == 0) {
            wheels(40, 40);
            call("going");
        } else if (word && !strcmp(word, "stop")) {
            halt();
            call("stopped");
        }
        count++;
        rest(100);
    }
}
