from cart import *
class Motorpair(object):
    count = 0
    def __init__(self, left, right):
        self.left = left; self.right = right
        self.values = {"l": 0, "r": 0}
        Motorpair.count += 1
    def run(self, l, r):
        for key, m, v in (("l", self.left, l), ("r", self.right, r)):
            if self.values[key] != v:
                m.power(v)
                self.values[key] = v
    def ramp(self, to, step=10, wait=50):
        v = self.values["l"]
        while v != to:
            v += step if to > v else -step
            self.run(v, v)
            rest(wait)
pair = Motorpair(Motor("M1"), Motor(port=BACK))
pair.ramp(50)
pair.ramp(-20, wait=30)
pair.ramp(0)
log = {}
for i in range(1, 16):
    key = "fizz" * (i % 3 == 0) + "buzz" * (i % 5 == 0) or i
    log.setdefault(key, []).append(i)
call(",".join(f"{k}:{len(v)}" for k, v in log.items() if not isinstance(k, int)))
n, digits = 2024, []
while n:
    n, d = divmod(n, 10)
    digits.insert(0, d)
wheels(*digits[:2]); rest(100)
wheels(*digits[2:]); rest(100)
wheels(sum(1 for d in digits if d % 2 == 0) * 10, digits[::-1].index(4)); rest(100)
halt()
