from cart import wheels, pause, touched

done = False
while True:
    if not done:
        wheels(30, 30)
        if touched():
            wheels(0, 0)
            done = True
