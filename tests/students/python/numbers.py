from cart import wheels, pause

values = [7 // 2, -7 // 2, 7 % 3, -7 % 3, 2**5, 7 / 2, int(-3.7), round(2.5), round(3.5), round(2.675, 2)]
for v in values:
    wheels(v, abs(v))
    pause(0.1)
x = 1
for i in range(1, 6):
    x *= i
    wheels(x % 100, x // 7 % 100)
    pause(0.05)
big = 2**200
wheels(big % 97, int(str(big)[:2]))
pause(0.1)
a, b = 3, 4
a, b = b, a
(c, d), e = (a, b), a + b
wheels(c * 10 + d, e)
pause(0.1)
wheels(*[10, 20])
pause(0.1)
