from cart import *

hits = 0
done = False
log = []


def bump():
    global hits
    hits += 1
    log.append(seconds())
    wheels(-10 * hits, -10 * hits)
    if hits == 2:
        pause(0.02)
        call("second at %.2f" % seconds())
    glow(hits / 10)


class Brake:
    def __init__(self):
        self.count = 0

    def stop(self):
        self.count += 1
        halt()


brake = Brake()
when_pressed("D1", bump)
when_pressed("D2", brake.stop)
wheels(40, 40)
pause(5)
while hits == 0:
    pass
pause(1)
call(f"{hits} {len(log)}")
when_pressed("D1", None)
k = 0
while k < 300:
    d = gap()
    wheels(d % 20, k % 30)
    k += 1
when_pressed("D1", lambda: wheels(99, brake.count))
while True:
    while not touched():
        pause(0.05)
    pause(0.3)
