from cart import *

try:
    while True:
        d = gap()
        wheels(d / 2, d / 2)
        if d < 15:
            raise ValueError("too near")
        pause(0.1)
except ValueError as problem:
    print("ended:", problem)
finally:
    halt()
    spray(0)
