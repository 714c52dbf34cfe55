#include "cart.h"
typedef struct { int x, y; } Point;
typedef struct { Point at; int h; const char *name; } Robot;
Point add(Point a, Point b) { Point c = { a.x + b.x, a.y + b.y }; return c; }
void turn(Robot *r, int by) { r->h = (r->h + by + 360) % 360; }
int dist(const Robot *r) { return r->at.x * r->at.x + r->at.y * r->at.y; }
Robot fleet[2] = { { {1, 2}, 90, "a" }, { .at = {3, 4}, .h = 180, .name = "b" } };
int main() {
    Robot r = fleet[1];
    turn(&r, -270);
    r.at = add(r.at, fleet[0].at);
    wheels(r.h / 4, dist(&r)); rest(100);
    wheels(fleet[1].h / 4, fleet[0].name[0] - 'A'); rest(100);
#define p (&fleet[0])
    p->at.x += 10;
    wheels(fleet[0].at.x, p->at.y); rest(100);
    halt();
}
