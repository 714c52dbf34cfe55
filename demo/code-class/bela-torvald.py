import barrow

ASKED = 0.62 * 1023
NEAR = 40
state = "waiting"
steady = 0

while state != "done":
    if state == "waiting":
        if barrow.knob_turn() > ASKED:
            steady = steady + 1
        else:
            steady = 0
        if steady >= 6:
            barrow.roll(45, 45)
            state = "far"
    elif state == "far":
        distance = barrow.ahead()
        if distance != -1 and distance < NEAR:
            barrow.roll(20, 20)
            state = "near"
    elif state == "near":
        if barrow.bumped():
            barrow.park()
            barrow.pour(80)
            barrow.rest(1.5)
            barrow.pour(0)
            state = "done"
    barrow.rest(0.01)
