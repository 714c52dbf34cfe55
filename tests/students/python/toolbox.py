from cart import *
import random
# several little exercises in one file
def average(values): return sum(values) / len(values) if values else 0
def read_many(n, delay=0.02):
    out = list()
    for _ in range(n):
        out += [gap()]
        pause(delay)
    return out
vals = read_many(5)
vals = list(filter(lambda v: v > 0, vals))
print(max(map(round, vals)), end="\n\n")
wheels(average(vals) / 4, average(sorted(vals)[1:-1]) / 4)
pause(.2)
if any(gap() < 110 for _ in range(4)): glow(1)
if all(gap() < 110 for _ in range(4)): glow(0)
pause(.1)
stack = []
for token in "3 4 + 2 * 7 -".split():
    if token.isdigit(): stack.append(int(token))
    else:
        b, a = stack.pop(), stack.pop()
        stack.append({"+": a + b, "-": a - b, "*": a * b}[token])
wheels(stack[0], len(stack)); pause(.1)
matrix = [[1, 2], [3, 4]]
inv = list(map(list, zip(*matrix)))
wheels(inv[0][1] * 10, inv[1][0] * 10); pause(.1)
text = "speed=35;turn=-12"
conf = dict(p.split("=") for p in text.split(";"))
wheels(int(conf["speed"]), float(conf["turn"])); pause(.1)
while True:
    try:
        if touched(): raise StopIteration
        if seconds() > 13: raise TimeoutError("late")
    except StopIteration:
        call("hit"); break
    except (TimeoutError, ValueError) as e:
        call(f"{type(e).__name__}: {e}"); break
    rest(20)
halt()
