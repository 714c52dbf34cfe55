from cart import *

STEPS = [(30, 30, 0.5), (30, -30, 0.4), (-20, -20, 1), (0, 0, 0.25)]
for l, r, t in STEPS * 2:
    wheels(l, r)
    pause(t)
names = {"go": 40, "slow": 15}
for key in ["go", "slow", "go"]:
    wheels(names[key], names[key])
    rest(names[key] * 10)
halt()
