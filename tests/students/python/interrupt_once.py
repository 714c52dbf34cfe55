from cart import *
hits = []
armed = True
def on_bump():
    global armed
    if not armed: return
    armed = False
    hits.append(round(seconds(), 3))
    wheels(-40, -40)
    pause(0.4)
    halt()
when_pressed("D1", on_bump)
wheels(45, 45)
n = 0
while len(hits) < 1:
    n += 1
    d = gap()
    if 0 < d < 60: wheels(25, 25)
    pause(0.02)
armed = True
pause(2)
call(str(hits) + str(n > 10))
