from cart import *
def f(a, b=2, *rest, c=3, d):
    return a + b * 10 + sum(rest) * 100 + c * 1000 + d
wheels(f(1, d=4) % 97, f(1, 2, 3, 4, d=0, c=0) % 97); pause(.1)
args = (1, 2)
wheels(f(*args, d=1) % 97, f(*[5], *args, d=1) % 89); pause(.1)
def var(*values, sep="-"): return sep.join(str(v) for v in values)
call(var(1, 2, 3) + var() + var("a", sep="/"))
def make_counter(start):
    count = [start]
    def inc(step=1):
        count[0] += step
        return count[0]
    def get(): return count[0]
    return inc, get
inc, get = make_counter(5)
inc(); inc(3)
wheels(get(), inc(step=-2)); pause(.1)
def twice(g): return lambda v: g(g(v))
wheels(twice(lambda v: v + 3)(1), twice(twice(lambda v: v * 2))(1)); pause(.1)
def gcd(a, b): return a if b == 0 else gcd(b, a % b)
def power(b, e): return 1 if e == 0 else (b if e % 2 else 1) * power(b * b, e // 2)
wheels(gcd(84, 36), power(2, 6)); pause(.1)
def walk(tree, depth=0):
    if isinstance(tree, list):
        return max([walk(t, depth + 1) for t in tree] or [depth + 1])
    return depth
wheels(walk([1, [2, [3, []]], []]) * 10, walk(5)); pause(.1)
def perms(items):
    if len(items) <= 1: return [items]
    return [[x] + p for i, x in enumerate(items) for p in perms(items[:i] + items[i + 1:])]
wheels(len(perms([1, 2, 3, 4])), perms("ab")[1] == ["b", "a"] if False else perms([1, 2])[1][0]); pause(.1)
memo = {}
def ways(n):
    if n < 0: return 0
    if n == 0: return 1
    if n not in memo: memo[n] = ways(n - 1) + ways(n - 2)
    return memo[n]
wheels(ways(9), len(memo)); pause(.1)
halt()
