from cart import *
def first_index(items, test):
    for i, item in enumerate(items):
        try:
            if test(item): return i
        finally:
            glow(i % 2)
            pause(0.01)
    return -1
wheels(first_index([3, 8, 12], lambda v: v > 5) * 10, first_index([], bool) * 10); pause(.1)
def loop_return():
    for k in range(5):
        while True:
            try:
                if k == 3: return k
                break
            finally:
                wheels(k, -k); pause(0.02)
wheels(loop_return(), 1); pause(.1)
def swallow():
    try:
        return 1
    finally:
        return 2
wheels(swallow(), 3); pause(.1)
out = []
for x in range(3):
    try:
        if x == 1: continue
        out.append(x)
    except Exception:
        out.append("e")
    else:
        out.append("ok")
    finally:
        out.append("f")
call(" ".join(map(str, out)))
i = 0
while i < 5:
    i += 1
    if i == 2: continue
    if i == 4: break
    wheels(i, i); pause(.03)
else:
    call("never")
halt()
