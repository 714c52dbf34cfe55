from barrow import *

while knob_turn() < 634
    rest(0.01)
roll(45, 45)
while not 0 < ahead() < 40:
    pass
roll(20, 20)
while not bumped():
    pass
park()
