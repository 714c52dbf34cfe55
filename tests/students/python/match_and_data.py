from cart import *
from dataclasses import dataclass
@dataclass
class Leg:
    left: int
    right: int
    secs: float = 0.25
    def run(self):
        wheels(self.left, self.right)
        pause(self.secs)
legs = [Leg(30, 30), Leg(20, -20, 0.1), Leg(right=10, left=15, secs=.2)]
for leg in legs: leg.run()
state, n = "start", 0
while True:
    match state:
        case "start":
            wheels(10, 10); state = "a"
        case "a" | "b" if n < 3:
            n += 1
            wheels(n * 10, 0)
            state = "b" if state == "a" else "a"
        case "b" | "a":
            state = None
        case None:
            halt(); break
        case other:
            call("odd " + other)
    pause(0.1)
def kind(v):
    match v:
        case 1 | 2: return "low"
        case True: return "yes"
        case x if x > 50: return f"high {x}"
        case -1: return "minus"
        case _: return "other"
call(" ".join(map(kind, [1, 2, 3, 60, -1])))
match n:
    case 3: call("three")
call(str(legs[0]) + repr(Leg(1, 2)) + str(Leg(1, 2) == Leg(1, 2, 0.25)) + str(Leg(1, 2) != Leg(1, 3)) + str([Leg(1, 2)] == [Leg(1, 2)]) + str(Leg(1, 2) in legs))


class Robot:
    made = 0

    def __init__(self, speed):
        self.speed = speed

    @classmethod
    def slow(cls, by=2):
        cls.made += 1
        return cls(20 // by)


class Fast(Robot):
    pass


wheels(Robot.slow().speed, Fast.slow(by=4).speed)
pause(0.1)
wheels(Robot.made * 10, Fast.made * 10)
pause(0.1)
halt()
