from cart import *

low, high = 20, 60
lamp_on = False
wheels(15, 15)
while not touched():
    level = dry()
    if not lamp_on and level < low * 2.55:
        lamp_on = True
    elif lamp_on and level > high * 2.55:
        lamp_on = False
    glow(lamp_on)
    aim(20 + level / 2)
halt()
