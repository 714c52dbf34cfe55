import time
import cart

last = time.time()
on = 0
start = time.monotonic()
while time.monotonic() - start < 6.0:
    if time.time() - last >= 0.25:
        last = time.time()
        on = 1 - on
        cart.glow(on)
    if cart.touched():
        cart.halt()
    else:
        cart.wheels(25, 25)
