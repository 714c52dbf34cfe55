from enum import Enum
from typing import List
import math
from cart import *

class State(Enum):
    WAIT = 1
    GO = 2
    DONE = 3

class Robot(object):
    count = 0
    speeds: List[int] = [10, 20, 30]

    def __init__(self, name: str, pace: float = 1.5) -> None:
        self.name = name
        self.pace = pace
        self.log = {}
        self.read = bright
        Robot.count += 1

    @property
    def fast(self):
        return self.pace > 1

    @staticmethod
    def limit(value, low=-100, high=100):
        return max(low, min(high, value))

    def step(self, k):
        self.log[k] = self.log.get(k, 0) + 1
        wheels(self.limit(self.speeds[k % 3] * self.pace), self.limit(left, high=50) if (left := k * 7) else 0)
        pause(0.05)
        return self

def todo(): ...

def counter():
    n = 0
    def inc(by=1):
        nonlocal n
        n += by
        return n
    return inc

r = Robot("x")
c = counter()
state = State.WAIT
while state != State.DONE:
    if state == State.WAIT:
        for i in range(5):
            r.step(i).step(i + 1)
            c()
        state = State.GO
    elif state is State.GO:
        wheels(r.fast * 20, c(by=3))
        rest(100)
        state = State.DONE
a = b = [1, 2, 3]
a.append(4)
x, *rest_of, z = b
wheels(x + z, sum(rest_of))
pause(0.1)
m = [[0] * 3 for _ in range(2)]
m[1][2] += 5
wheels(m[1][2], math.floor(math.sqrt(50)) + int(math.pi * 10))
pause(0.1)
words = {"a": [1, (2, 3)], "b": None}
for key, value in words.items():
    if value is None:
        continue
    p, (q, s) = value
    wheels(p * 10 + q, s)
    pause(0.1)
nums = [3, 1, 2]
best = min(nums, key=lambda v: abs(v - 2))
order = sorted(enumerate(nums), key=lambda pair: pair[1], reverse=True)
wheels(best, order[0][0] * 10 + order[-1][1])
pause(0.1)
todo()
text = f"{best:03d}|{r.pace:.2f}|{'go':>5}|{nums!r}"
call(text)
value = r.read()
wheels(value and 1 or 2, not value)
pause(0.1)
flags = [True, False, True]
wheels(sum(flags), all(flags) + any(flags) * 2)
pause(0.1)
try:
    print({}["missing"])
except (KeyError, ValueError) as e:
    wheels(len(str(e)), 1)
else:
    wheels(0, 0)
finally:
    pause(0.1)
def outer(n):
    try:
        return 10 // n
    except ZeroDivisionError:
        return -1
    finally:
        wheels(n, n)
        pause(0.1)
wheels(outer(0), outer(3))
pause(0.1)
s = "L2,R-3,F5"
for part in s.split(","):
    kind, amount = part[0], int(part[1:])
    if kind in "LR" and amount < 0 or kind == "F":
        wheels(amount, len(kind))
        pause(0.05)
while True:
    try:
        d = gap()
        if d < 100:
            break
    except TypeError:
        pass
    pause(0.03)
halt()
