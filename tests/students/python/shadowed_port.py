from cart import *

port = "M1"


def turn(port, level):
    motor = Motor(port)
    motor.power(level)


turn("M2", 30)
pause(0.5)
turn("M1", -20)
pause(0.5)


def both(port="M2"):
    for level in (10, 20):
        Motor(port).power(level)
        pause(0.1)


both()
halt()
