from cart import *
data = """
f 30 200
b 20 100
s 0 300
"""
def parse(text):
    out = []
    for line in text.strip().split("\n"):
        kind, *rest_ = line.split()
        out.append((kind, *map(int, rest_)))
    return out
for kind, power, ms in parse(data):
    sign = {"f": 1, "b": -1}.get(kind, 0)
    wheels(sign * power, sign * power)
    rest(ms)
bits = [bool(0b1011 >> i & 1) for i in range(4)]
for bit in reversed(bits):
    glow(bit)
    pause(.05)
i = 10
while i:
    i -= 3 if i > 3 else 1
    wheels(i, i); rest(20)
try:
    x = 1 / (i and i)
except ZeroDivisionError:
    call("zero")
try:
    {}["k"]
except (IndexError, KeyError) as err:
    call("key " + type(err).__name__)
assert i == 0, "no"
words = "go stop go left go".split()
freq = {}
for w in words: freq[w] = freq.get(w, 0) + 1
best = max(freq, key=freq.get)
call(f"{best}:{freq[best]} {'-'.join(sorted(set(words)))}")
wheels(freq["go"] * 10, len(best)); rest(100)
halt()
