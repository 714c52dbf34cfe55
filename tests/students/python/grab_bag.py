from cart import *
def collatz(n):
    steps = 0
    while n != 1:
        n = n // 2 if n % 2 == 0 else 3 * n + 1
        steps += 1
    return steps
def bits(n):
    s = ""
    while n: s = str(n & 1) + s; n >>= 1
    return s or "0"
def primes(n):
    found = []
    for k in range(2, n):
        for p in found:
            if p * p > k: found.append(k); break
            if k % p == 0: break
        else: found.append(k)
    return found
wheels(collatz(27) % 100, len(bits(1000)) * 3); rest(100)
wheels(primes(60)[-1], -primes(60)[3]); rest(100)
big = 2 ** 100 % 97
wheels(big, (-big) % 7); rest(100)
wheels(hash_ := 5, hash_ ** 2); rest(100)
lst = [5, 2, 9]
lst2 = lst
lst2 += [1]
wheels(len(lst) * 10, lst.index(9)); rest(100)
s = set([1, 2, 2, 3]) & {2, 3, 4}
wheels(sum(s) * 5, 2 in s); rest(100)
f = 0
for i in range(10):
    f += 0.1
wheels(f == 1.0, round(f, 10) == 1.0); rest(100)
x = "a,b,,c".split(",")
wheels(len(x) * 10, x.count("")); rest(100)
y = None
wheels(y is None, not y); rest(100)
z = [1, 2, 3, 4, 5][1:-1][::-1]
wheels(z[0] * 10, sum(z)); rest(100)
d = {"b": 1, "a": 2}
wheels(list(d)[0] == "b", sorted(d.items())[0][1]); rest(100)
wheels(3 if d.get("q") else 4, d.pop("a")); rest(100)
wheels(max("apple", "pear", key=len) == "apple", min(d.values())); rest(100)
halt()
