from barrow import *

while knob_turn() < 634:
    rest(0.05)
roll(45, 45)
while ahead() > 40:
    pass
roll(20, 20)
while not bumped():
    pass
park()
pour(80)
rest(1.5)
pour(0)
