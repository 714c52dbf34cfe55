#include "cart.h"
typedef struct { double kp, ki, kd, sum, prev; int have; } Pid;
static double pid_step(Pid *c, double error, double dt) {
    c->sum += error * dt;
    double d = c->have ? (error - c->prev) / dt : 0.0;
    c->prev = error; c->have = 1;
    return c->kp * error + c->ki * c->sum + c->kd * d;
}
static void clamp(double *v, double lo, double hi) { if (*v < lo) *v = lo; else if (*v > hi) *v = hi; }
int main() {
    Pid pid = { .kp = 1.2, .kd = 0.001 };
    pid.ki = 0.02;
    for (int n = 200; n; --n) {
        double d = gap(), u;
        if (d == -1) { rest(10); continue; }
        u = pid_step(&pid, d - 60, 0.012);
        clamp(&u, -80, 80);
        wheels(u, (u > 5 || u < -5) ? u : 0);
    }
    halt();
}
