from cart import gap, wheels, halt, pause, touched

window = []


def smooth(value):
    window.append(value)
    if len(window) > 5:
        window.pop(0)
    return sum(window) / len(window)


wheels(50, 50)
while True:
    g = gap()
    if g == -1:
        continue
    m = smooth(g)
    if m < 30:
        break
    speed = max(15, min(50, m - 10))
    wheels(speed, speed)
    pause(0.05)
halt()
