#include "cart.h"
#include <stdbool.h>

volatile int hits = 0;
volatile bool scraping = false;

void bump(void) {
    hits++;
    wheels(-10 * hits, -10 * hits);
    if (hits == 2) {
        rest(20);
        call("second");
    }
}
void scrape(void) { scraping = true; halt(); }

int main(void) {
    int loops = 0;
    when_pressed("D1", bump);
    when_pressed("D2", &scrape);
    wheels(40, 40);
    pause(5);
    while (!hits) {
    }
    rest(1000);
    wheels(hits, loops);
    when_pressed("D1", NULL);
    for (int k = 0; k < 300; k++) {
        double d = gap();
        wheels(d, k % 30);
    }
    when_pressed("D1", bump);
    do {
        loops++;
        if (touched()) rest(70);
    } while (!scraping || loops < 2000);
    glow(1);
    while (1);
}
