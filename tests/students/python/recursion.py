from cart import wheels, pause, halt


def square(n):
    if n == 0:
        return 0
    wheels(30, 30)
    pause(0.2)
    wheels(30, -30)
    pause(0.1)
    return 1 + square(n - 1)


def fact(n):
    return 1 if n < 2 else n * fact(n - 1)


total = square(4)
wheels(fact(4), total * 10)
pause(0.5)
halt()
