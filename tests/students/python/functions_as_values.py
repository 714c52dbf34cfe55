from cart import *


def action():
    call("plain")
    return 5


def slow():
    pause(0.1)
    call("slow")
    return 7


def do(action):
    return action()


def outer(times):
    def helper():
        pause(0.05)
        call("helped")
        return times

    def stop():
        wheels(0, 0)

    stop()
    return helper() + 1


class Plain:
    def __init__(self, n):
        self.n = n

    def run(self):
        return self.n


class Slow:
    def __init__(self, n):
        pause(0.03)
        self.n = n
        self.action = slow
        self.index = slow

    def run(self):
        pause(0.02)
        return -self.n


def checked():
    if outer(0):
        call("so")
    if do(slow) == 7 and do(action) == 5:
        call("both")


def forward():
    call("forward")


table = {"a": slow, "b": action}
checked()
call(str(outer(3)))
call(str(Plain(4).run() + Slow(5).run()))
call(str(Slow(1).action()))
call(str(Slow(1).index()))
call(str([3, 4].index(4)))
for name in ("a", "b"):
    call(str(table[name]()))
slow, action = action, slow
call(str(do(slow) + do(action)))
forward()
works = [lambda: do(action), outer, lambda: Plain(2).run()]
call(str(works[0]() + works[1](1) + works[2]()))
