from barrow import *

steady = 0
while steady < 6:
    if knob_turn() > 634:
        steady += 1
    else:
        steady == 0
    rest(0.01)
speeds = [45, 20]
roll(speeds[0], speeds[0])
while not 0 < ahead() < 40:
    pass
roll(speeds[2], speeds[2])
while not bumped():
    pass
park()
pour(80)
rest(1.5)
pour(0)
