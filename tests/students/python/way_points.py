from cart import *
import math
points = [(0, 0), (50, 0), (50, 50), (0, 0)]
heading = 0.0
total = 0
def norm(a):
    while a > 180: a -= 360
    while a <= -180: a += 360
    return a
for (x0, y0), (x1, y1) in zip(points[:-1], points[1:]):
    dx, dy = x1 - x0, y1 - y0
    dist = math.sqrt(dx ** 2 + dy ** 2)
    target = math.degrees(math.atan2(dy, dx))
    turn_ = norm(target - heading)
    if abs(turn_) > 1:
        wheels(math.copysign(25, -turn_), math.copysign(25, turn_))
        pause(abs(turn_) / 180)
    heading = target
    wheels(35, 35)
    pause(dist / 100)
    total += dist
halt()
call(f"{total:.1f} {heading:.0f} {norm(725):.1f} {norm(-190)}")
