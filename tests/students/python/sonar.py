from cart import gap as measure, wheels as go, pause as wait_s, touched as bump, halt as stop, call as say
MAX_TRIES = 3
class Sonar:
    """averages and throws away"""
    def __init__(self, n=3): self.n, self.history = n, []
    def read(self):
        good = []
        tries = 0
        while len(good) < self.n and tries < self.n * MAX_TRIES:
            tries += 1
            v = measure()
            if v is None or v <= 0: continue
            good.append(v)
        if not good: return None
        avg = sum(good) / len(good)
        self.history.append(avg)
        return avg
    def trend(self):
        h = self.history[-3:]
        if len(h) < 3: return 0
        return (h[0] > h[1] > h[2]) - (h[0] < h[1] < h[2])
sonar = Sonar(n=2)
speed = 50
while True:
    dist = sonar.read()
    if dist is None:
        say("blind"); stop(); wait_s(0.2); continue
    if bump() or dist < 8: break
    speed = 50 if dist > 80 else 30 if dist > 40 else 15
    if sonar.trend() < 0: speed -= 5
    go(speed, speed)
    wait_s(0.03)
stop()
say("%d readings" % len(sonar.history))
