from cart import *

while not touched():
    while gap() > 60:
        wheels(50, 50)
        if touched():
            break
    steps = 0
    while steps < 5:
        wheels(10 + steps, 10)
        steps += 1
        if scraped():
            break
    wheels(20, 20)
halt()


def after(n):
    for i in range(n):
        for j in range(2):
            if (i + j) % 2 == 0:
                continue
            wheels(i, j)
            pause(0.1)
            if i == 3:
                return j


after(5)
