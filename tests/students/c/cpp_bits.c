#include "cart.h"
#include <cmath>
using namespace std;
const double kNear = 40;
Motor leftMotor("M1");
Motor rightMotor("M2");
bool started = false;
double lastGood = 999;
double readGap() {
  auto d = gap();
  if (d > 0) lastGood = d;
  return lastGood;
}
void drive(int l, int r = 1000) {
  if (r == 1000) r = l;
  leftMotor.power(l);
  rightMotor.power(r);
}
void addTo(double &total, double amount) { total += amount; }
int main() {
  double total{0};
  while (!started) {
    started = dose() > 600 || seconds() > 2;
    rest(10);
  }
  for (auto power : {20, 30, 40}) { drive(power); rest(150); }
  int powers[] = {15, 25};
  for (int p : powers) { drive(p, -p); addTo(total, p); rest(100); }
  while (readGap() > kNear && !touched()) { drive(static_cast<int>(min(60.0, readGap() / 2))); rest(20); }
  drive(0);
  leftMotor.stop();
  rightMotor.stop();
  wheels(total, int(lastGood) % 50);
  rest(100);
  halt();
}
