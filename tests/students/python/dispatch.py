from cart import *


def forward(p):
    wheels(p, p)


def back(p):
    wheels(-p, -p)


def wait_a_bit(p):
    pause(p / 100)


actions = {"f": forward, "b": back, "w": wait_a_bit}
for code in ["f30", "w20", "b10", "w40", "f5", "w10"]:
    actions[code[0]](int(code[1:]))
sense = [touched, scraped]
while not any([s() for s in sense]):
    forward(25)
    wait_a_bit(5)
halt()
speed = lambda d: d * 2
forward(speed(7))
