from cart import gap, wheels, pause, dose

readings = [gap() for _ in range(4)]
good = sorted(r for r in readings if r > 0)
middle = good[len(good) // 2] if good else 50
wheels(middle / 4, middle / 4)
pause(0.3)
table = {k: k * k for k in range(5)}
squares = [table[k] for k in sorted(table, reverse=True)]
for s in squares:
    wheels(s, s)
    pause(0.05)
doses = [dose() for i in range(3)]
wheels(min(doses) % 50, max(doses) % 50)
pause(0.2)
