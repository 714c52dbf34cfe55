from barrow import *
count = 0

def wait_for_the_knob():
    steady = 0
    while steady < 6:
        if knob_turn() > 634:
            steady += 1
        else:
            steady = 0
        rest(0.01)

wait_for_the_knob()
roll(45, 45)
while not 0 < ahead() < 40:
    pass
roll(20, 20)
while not bumped():
    pass
park()
pour(80)
rest(15)
pour(0)
