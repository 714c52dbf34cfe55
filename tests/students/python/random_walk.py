from cart import wheels, pause

seed = 12345


def rnd():
    global seed
    seed = (seed * 1103515245 + 12345) & 0x7FFFFFFF
    return seed / 0x7FFFFFFF


for k in range(12):
    wheels(int(rnd() * 100) - 50, rnd() * 50)
    pause(0.05 + rnd() / 10)
q = [1]
for k in range(6):
    q = q + [q[-1] * 2]
    q[0] += k
wheels(sum(q) % 100, q[0])
pause(0.1)
