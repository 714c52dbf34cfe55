#include "cart.h"
#include <ctype.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
enum class Mode { Wait, Drive = 5, Done };
static const int marks[6] = { 0, 10, 20, 0, 0, 7 };
static int read_number(const char *text, const char *key) {
    const char *found = strstr(text, key);
    return found ? atoi(strchr(found, '=') == NULL ? "0" : "44") : -1;
}
int main(void) {
    const char *line = "go=44;left=-12";
    int digits = 0, upper = 0;
    for (int i = 0; i < (int) strlen(line); i++) {
        if (isdigit(line[i])) digits++;
        upper += toupper(line[i]) - 'A' > 0 ? 1 : 0;
    }
    wheels(digits * 5, upper); rest(100);
    wheels(read_number(line, "left"), read_number(line, "stop")); rest(100);
    wheels(atoi("  -37abc"), strchr(line, 'q') ? 1 : 2); rest(100);
    double far = NAN;
    if (isnan(far) && !(touched()) && !isinf(far)) far = fabsf(-3.5f) * 10;
    wheels(far, lround(2.5) * 10); rest(100);
    Mode mode = Mode::Wait;
    for (int i = 0; mode != Mode::Done; i++) {
        switch (mode) {
            case Mode::Wait: mode = i > 2 ? Mode::Drive : Mode::Wait; break;
            case Mode::Drive: wheels(marks[i % 6], marks[5]); mode = Mode::Done; break;
            default: break;
        }
        rest(50);
    }
    halt();
    return EXIT_SUCCESS;
}
