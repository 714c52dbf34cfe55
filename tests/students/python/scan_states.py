from cart import *
START, SEARCH, DRIVE, END = range(4)
names = {START: "start", SEARCH: "search", DRIVE: "drive", END: "end"}
state = START
t_enter = seconds()
best = (999, None)
angle = 20
while True:
    elapsed = seconds() - t_enter
    new_state = state
    if state == START:
        aim(angle)
        if elapsed > .3: new_state = SEARCH
    elif state == SEARCH:
        d = gap()
        if 0 < d < best[0]:
            best = d, angle
        angle += 35
        if angle > 160: new_state = DRIVE
        else: aim(angle); pause(.1)
    elif state == DRIVE:
        p = 30 if elapsed < 1 else 60 - 10 * min(elapsed, 5)
        wheels(p, p)
        if touched() or elapsed >= 6: new_state = END
        pause(0.05)
    else:
        break
    if new_state != state:
        call(names[new_state])
        state, t_enter = new_state, seconds()
halt()
call("%.1f %s" % best)
