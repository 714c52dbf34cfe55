from cart import *
class Node:
    def __init__(self, value, next=None):
        self.value = value
        self.next = next
head = None
for v in (30, 20, 10): head = Node(v, head)
n = head
while n:
    wheels(n.value, n.value)
    rest(60)
    n = n.next
class Shape:
    sides = 0
    def total(self): return self.sides * self.length()
    def length(self): return 1
class Square(Shape):
    sides = 4
    def __init__(self, a): self.a = a
    def length(self): return self.a
class Tri(Square):
    sides = 3
shapes = [Square(3), Tri(5), Shape()]
wheels(*(s.total() for s in shapes[:2])); rest(60)
wheels(sum(isinstance(s, Square) for s in shapes) * 10, max(shapes, key=lambda s: s.total()).sides); rest(60)
table = [[c + r * 3 for c in range(3)] for r in range(3)]
diag = [table[k][k] for k in range(len(table))]
anti = [row[~k] for k, row in enumerate(table)]
wheels(sum(diag), sum(anti)); rest(60)
del table[0][1:], diag[-1]
wheels(len(table[0]) * 10, len(diag)); rest(60)
s = "The quick brown fox"
initials = "".join(w[0] for w in s.split()).lower()
wheels(len(initials) * 5, initials == "tqbf"); rest(60)
vowels = {c: s.count(c) for c in "aeiou" if c in s}
wheels(sum(vowels.values()) * 5, len(vowels)); rest(60)
x = 7
x = x << 2 | 1; x ^= 0b11; x %= 16
wheels(x, -x // 4); rest(60)
a, b, c = sorted((3, 1, 2))
a, b = b, a
wheels(a * 10 + b, c); rest(60)
if (n := len(shapes)) > 2 and not n % 3: wheels(n, n)
rest(60); halt()
