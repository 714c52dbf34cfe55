from cart import wheels, pause

wheels(20, 20)
pause(1)
wheels(5, 5)
while True:
    pass
