from cart import *
# turtle-like helper library and a pattern
class Turtle:
    SPEED = 30
    def __init__(self, speed=SPEED):
        self.speed = speed
        self.path = [(0, 0)]
        self.heading = 0
    def forward(self, secs):
        wheels(self.speed, self.speed)
        pause(secs)
        self._stop()
        x, y = self.path[-1]
        dx, dy = [(1, 0), (0, 1), (-1, 0), (0, -1)][self.heading // 90 % 4]
        self.path.append((x + dx * secs, y + dy * secs))
        return self
    def left(self, deg=90):
        self._turn(deg); self.heading += deg
        return self
    def right(self, deg=90): return self.left(-deg)
    def _turn(self, deg):
        s = -1 if deg > 0 else 1
        wheels(s * self.speed, -s * self.speed)
        pause(abs(deg) / 180)
        self._stop()
    def _stop(self):
        halt(); pause(0.05)
    def __repr__(self): return "T(%d)" % len(self.path)
t = Turtle()
for _ in range(4):
    t.forward(0.3).left()
t.right(45).forward(.2)
call(repr(t) + str(t.path[-1]) + f" {t.heading}")
