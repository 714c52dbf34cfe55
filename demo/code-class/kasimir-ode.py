import threading
from barrow import *

def watch():
    while not bumped():
        pass
    park()

threading.Thread(target=watch).start()
while knob_turn() < 634:
    rest(0.01)
roll(45, 45)
