from cart import echo, wheels, pause

wheels(30, 30)
while True:
    e = echo()
    if e is None:
        wheels(10, 10)
    elif e < 300:
        break
    else:
        wheels(30, 30)
    pause(0.04)
wheels(0, 0)
while echo() > 100:
    pass
wheels(1, 1)
