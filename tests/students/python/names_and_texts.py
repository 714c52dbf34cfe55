from cart import *
max = 30
list_ = [1, 2]
str_ = str(max)
def range_check(v, lo=0, hi=max): return lo <= v <= hi
max += 5
wheels(max, range_check(31)); pause(.1)
def shadow(gap):
    return gap * 2
wheels(shadow(7), shadow(gap=3)); pause(.1)
class Counter:
    total = 0
    names = []
    def __init__(self, name):
        self.name = name
        self.names.append(name)
        Counter.total += 1
        self.total_local = self.total
    @staticmethod
    def how_many(): return Counter.total
    @property
    def label(self): return f"{self.name}#{self.total_local}"
a, b = Counter("a"), Counter("b")
a.total = 50
wheels(Counter.how_many() * 10, a.total); pause(.1)
call(a.label + b.label + "".join(Counter.names) + str(b.total))
x = [1, 2, 3]
y = x
y = y + [4]
x.append(9)
wheels(len(x) * 10, len(y)); pause(.1)
z = x * 2
z[0] = 7
wheels(z[0], x[0]); pause(.1)
d = {1: "one", "two": 2, (1, 2): [3]}
d[(1, 2)].append(4)
wheels(len(d[1, 2]) * 10, d["two"]); pause(.1)
e = d.copy(); e["two"] = 5
wheels(d["two"], e["two"]); pause(.1)
for k in list(e):
    if isinstance(k, str): del e[k]
wheels(len(e), "two" in e); pause(.1)
print(d, x, (1,), {True: None}, 1e10, 1e16, 0.1 + 0.2, -0.0, 10 ** 20, 3.0, 1 / 3)
call(str([1.5, "a'b", None, (), {}, set()]) + repr("q\n") + str(1e-7) + str(123456789.123456789))
call(f"{3:>4}|{3:<4}|{3:^5}|{3:04d}|{3.14159:8.3f}|{'x':*^5}|{12345.678:,.1f}|{0.5:%}|{255:#x}|{7:+}")
call("%5d|%-5s|%05.1f|%x|%%|%r|%c" % (42, "ab", 3.14159, 255, "z", "k"))
call("{} {1} {0}".format(1, 2) if False else "{1} {0} {k}".format(1, 2, k="v"))
halt()
