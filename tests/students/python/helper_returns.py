import cart as c


def read_gap(times=3):
    best = None
    for _ in range(times):
        d = c.gap()
        if d > 0 and (best is None or d < best):
            best = d
    return best if best is not None else 200.0


def speed_for(distance):
    if distance > 100:
        return 60
    if distance > 40:
        return 40
    return 20


while read_gap() > 20:
    s = speed_for(read_gap(times=2))
    c.wheels(s, s)
    c.rest(30)
c.halt()
