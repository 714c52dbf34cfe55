from cart import wheels, halt, gap, bright, seconds

target = 25
integral = 0.0
previous = 0
while seconds() < 12:
    g = gap()
    if g < 0:
        error = previous
    else:
        error = g - target
    integral = max(-50, min(50, integral + error * 0.05))
    drive = 1.2 * error + 0.1 * integral + 0.5 * (error - previous)
    previous = error
    drive = -60 if drive < -60 else 60 if drive > 60 else drive
    wheels(drive, drive - bright() / 100)
halt()
