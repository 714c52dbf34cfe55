from cart import *
class StateMachine:
    def __init__(self):
        self.handlers = {}
        self.state = None
        self.since = 0
    def add(self, name, handler): self.handlers[name] = handler; return self
    def start(self, name):
        self.state = name; self.since = seconds()
    def elapsed(self): return seconds() - self.since
    def run(self):
        while self.state:
            new = self.handlers[self.state](self)
            if new != self.state:
                call(f"{self.state}>{new}")
                self.state = new; self.since = seconds()
            rest(10)
def waiting(m): return "drive" if dose() > 634 or m.elapsed() > 3 else "waiting"
def drive(m):
    ramp = min(45, 10 + 20 * m.elapsed())
    wheels(ramp, ramp)
    d = gap()
    return "slow" if 0 < d < 40 else "drive"
def slow(m):
    wheels(20, 20)
    return "water" if touched() else "slow"
def water(m):
    halt(); spray(204)
    if m.elapsed() < 1.5: return "water"
    spray(0)
    return None
sm = StateMachine()
sm.add("waiting", waiting).add("drive", drive).add("slow", slow).add("water", water)
sm.start("waiting")
sm.run()
