from barrow import *

while knob_turn() < 634:
    rest(0.01)
roll(45, 45)
while not 0 < ahead() < 40:
    rest(0.01)
roll(20, 20)
while bumped:
    if bumped():
        break
rest(0.3)
park()
pour(80)
rest(1.5)
pour(0)
