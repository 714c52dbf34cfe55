from cart import *

mode = 0
presses = 0


def look():
    global mode, presses
    if touched():
        presses = presses + 1
        mode = (mode + 1) % 3
        while touched():
            pause(0.01)


def act():
    if mode == 0:
        wheels(0, 0)
    elif mode == 1:
        wheels(30, 30)
    else:
        wheels(-30, 30)


while presses < 5:
    look()
    act()
    pause(0.02)
