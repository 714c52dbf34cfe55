from barrow import roll, park, pour, ahead, bumped, knob_turn, rest

recent = []

def near():
    """The middle of the last three echoes, so that one wrong one does not count."""
    recent.append(ahead())
    if len(recent) > 3:
        recent.pop(0)
    good = sorted(x for x in recent if x > 0)
    return len(good) > 0 and good[len(good) // 2] < 40

def turned():
    for _ in range(6):
        if knob_turn() <= 634:
            return False
        rest(0.01)
    return True

while not turned():
    rest(0.01)
roll(45, 45)
while not near():
    pass
roll(20, 20)
while not bumped():
    pass
park()
pour(80)
rest(1.5)
pour(0)
