import cart
import time

while cart.dose() < 634:
    time.sleep(0.02)
cart.wheels(45, 45)
while cart.gap() > 40 or cart.gap() < 0:
    pass
cart.wheels(20, 20)
while not cart.touched():
    pass
cart.halt()
cart.spray(204)
time.sleep(1.5)
cart.spray(0)
