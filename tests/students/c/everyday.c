#include "cart.h"
// globals like everybody does
int i, j, k;
float speed = 0.0;
char dir = 'f';
const int SPEEDS[] = {10, 20, 30, 40, 50};
int lookup(int n) { if (n < 0) return SPEEDS[0]; if (n >= 5) return SPEEDS[4]; return SPEEDS[n]; }
void go(char d, float s) {
  switch(d) {
    case 'f': wheels(s, s); break;
    case 'b': wheels(-s, -s); break;
    case 'l': case 'L':
      wheels(-s, s); break;
    case 'r': wheels(s, -s);
    default: break;
  }
}
int main() {
  for (i = -1; i <= 5; i++) {
    go(i % 2 == 0 ? 'f' : 'l', lookup(i));
    rest(100);
  }
  j = 10;
  while (j --> 0) { if (j == 4) break; }
  k = j++ * 2 + --i;
  speed = k / 3;
  go(dir, speed);
  rest(200);
  speed = 12.5; go('r', speed * 2);
  rest(100);
  halt();
  do ; while (0);
  return 0;
}
