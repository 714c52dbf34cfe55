from cart import *

tries = 0
while tries < 4:
    wheels(10 + tries, 10)
    pause(0.1)
    if gap() < 0:
        break
    tries += 1
else:
    wheels(33, 33)
    pause(0.2)
n = 0
while True:
    n += 1
    if n % 2:
        continue
    if n > 10:
        break
    wheels(n, -n)
    rest(50)
halt()
