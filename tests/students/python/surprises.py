from cart import *
def steps():
    return [1, 2, 3]
x = 0
for i in steps():
    for j in range(i, 0, -1):
        if (i, j) == (3, 2): break
        if j == i: continue
        x += i * j
    else:
        x += 100
wheels(x % 100, x // 100); pause(.1)
s = 'abc'; r = ''
for ch in s[::-1]: r += ch.upper() * 2
wheels(len(r) * 5, r == 'CCBBAA'); pause(.1)
lst = [[]] * 3
lst[0].append(1)
wheels(sum(map(len, lst)) * 10, len(lst)); pause(.1)
a = [1, 2, 3]; b = a; c = a[:]
a += [4]; b.extend([5, 6]); c.append(9)
wheels(len(b) * 5, c[-1]); pause(.1)
t = (1, (2, 3), [4])
(p, (q, u), [v]) = t
wheels(p + q + u + v, t[1][1]); pause(.1)
def default(items=[]):
    items.append(len(items))
    return items
default(); default()
wheels(len(default()) * 10, default()[0]); pause(.1)
funcs = [lambda n=n: n * 10 for n in range(3)]
late = [lambda: n for n in range(3)]
wheels(funcs[1](), late[0]() * 10); pause(.1)
try:
    try:
        int("x")
    finally:
        wheels(5, 5); pause(.1)
except ValueError as e:
    wheels(6, 6); pause(.1)
else:
    wheels(7, 7)
def gen_like(n):
    out = []
    while n > 0:
        out.append(n); n //= 2
    return out
wheels(*gen_like(40)[:2]); pause(.1)
wheels(bool("0") * 10, bool(0.0)); pause(.1)
wheels(round(-2.567, 1) * 10, round(1234, -2) / 100); pause(.1)
wheels(0b101 | 0x10, 7 & ~2); pause(.1)
wheels(5 if 1 < 2 < 3 != 4 else 6, 3 if "b" in "abc" and "z" not in "abc" else 4); pause(.1)
wheels(-3 ** 2, (-3) ** 2); pause(.1)
wheels(10 ** -1 * 100, 1e1); pause(.1)
wheels("%03d" % 7 == "007", "{:>5}".format("ab") == "   ab"); pause(.1)
wheels(f"{3.14159:.2f}" == "3.14", f"{1000000:,}" == "1,000,000"); pause(.1)
wheels("a-b-c".rsplit("-", 1)[1] == "c", "x".join(["1", "2"]) == "1x2"); pause(.1)
wheels(" hi ".strip().startswith("h"), "Abc".swapcase() == "aBC"); pause(.1)
halt()
