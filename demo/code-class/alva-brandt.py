from barrow import *

# wait for the knob: 62 % of 1023 is 634, and it must stay there
while True:
    if knob_turn() > 634:
        since = ticking()
        while knob_turn() > 634:
            if ticking() - since >= 0.05:
                break
        else:
            continue
        break

roll(45, 45)
while not 0 < ahead() < 40:
    pass
roll(20, 20)
while not bumped():
    pass
park()
pour(80)
rest(1.5)
pour(0)
