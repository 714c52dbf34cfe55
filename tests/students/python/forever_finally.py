from cart import wheels, touched, halt, pause

try:
    while 1:
        if touched():
            wheels(-20, -20)
            pause(0.3)
        else:
            wheels(20, 20)
except KeyboardInterrupt:
    pass
finally:
    halt()
