#include "cart.h"
#include <stdint.h>
static uint16_t crc(const uint8_t *data, int n) {
    uint16_t c = 0xFFFF;
    for (int i = 0; i < n; i++) {
        c ^= (uint16_t) data[i] << 8;
        for (int b = 0; b < 8; b++) c = c & 0x8000 ? (c << 1) ^ 0x1021 : c << 1;
    }
    return c;
}
static uint32_t lcg(uint32_t *s) { *s = *s * 1664525u + 1013904223u; return *s >> 16; }
int main() {
    uint8_t data[] = { 1, 2, 3, 4, 250 };
    uint32_t seed = 42;
    wheels(crc(data, 5) % 97, lcg(&seed) % 89); rest(50);
    wheels(lcg(&seed) % 89, (int8_t) data[4]); rest(50);
    int8_t small = -128; small = -small;
    uint8_t wrap = 0; wrap--;
    wheels(small / 2, wrap / 5); rest(50);
    int64_t big = 1; for (int i = 0; i < 40; i++) big *= 3;
    wheels(big % 101, (int)(big >> 20) % 50); rest(50);
    uint32_t diff = (uint32_t) 5 - (uint32_t) 10;
    wheels(diff > 100 ? 10 : 20, (int32_t) diff); rest(50);
    wheels(3 / 2 * 1.0 * 10, 3 / 2.0f * 10); rest(50);
    wheels(-5 % 3 * 10, 5u % 3 * 10); rest(50);
    wheels((5 & 6) == 4, 5 & 6 == 4); rest(50);
    wheels(1 << 4 >> 2, ~0 & 0x1F); rest(50);
    double h = 100; h /= 8; h -= (int) h;
    wheels(h * 40, 1e1 + .5e1); rest(50);
    wheels(07 + 010, 0b101 + 0xA); rest(50);
    halt();
}
