#include "cart.h"
#include <cmath>
#include <algorithm>
using std::min;
using std::max;
enum class Mode { Wait, Drive };
struct Pid { double kp, ki; };
constexpr double LIMIT = 40.0;
bool near(double d = LIMIT) { double g = gap(); return g > 0 && g < d; }
int main() {
    Motor left("M1"), right("M2");
    Mode mode = Mode::Wait;
    for (int i = 0; i < 200; ++i) {
        if (mode == Mode::Wait && dose() > 600) mode = Mode::Drive;
        if (mode == Mode::Drive) { left.power(min(60, i)); right.power(max(10.0, 60.0 - i)); }
        if (near()) break;
        rest(20);
    }
    left.stop(); right.stop();
}
