from cart import *

state = "start"
while True:
    if state == "start":
        if dose() > 634:
            wheels(45, 45)
            state = "far"
    elif state == "far":
        d = gap()
        if 0 < d < 40:
            wheels(20, 20)
            state = "near"
    elif state == "near":
        if touched():
            halt()
            state = "water"
            t0 = seconds()
            spray(204)
    elif state == "water":
        if seconds() - t0 >= 1.5:
            spray(0)
            break
