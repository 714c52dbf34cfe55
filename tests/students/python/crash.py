from cart import wheels, pause

speeds = [10, 20, 30]
for i in range(5):
    wheels(speeds[i], speeds[i])
    pause(0.2)
wheels(0, 0)
