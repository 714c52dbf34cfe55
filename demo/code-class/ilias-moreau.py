from barrow import *

steady = 0
while steady < 6:
    steady = steady + 1 if knob_turn() > 634 else 0
    rest(0.01)
roll(45, 45)
while True:
    gap = ahead()
    if gap < 40:
        break
roll(20, 20)
while not bumped():
    pass
park()
pour(80)
rest(1.5)
