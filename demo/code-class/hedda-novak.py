import barrow
import time

while barrow.knob_turn() < 634:
    time.sleep(0.02)
time.sleep(0.1)
barrow.roll(45, 45)
gap = barrow.ahead()
while gap > 40 or gap < 0:
    gap = barrow.ahead()
barrow.roll(45, 20)
while not barrow.bumped():
    pass
barrow.park()
barrow.pour(100)
time.sleep(1.5)
barrow.pour(0)
