import cart
def wait_until(cond, timeout=20):
    t = cart.seconds()
    while not cond():
        if cart.seconds() - t > timeout: return False
        cart.rest(5)
    return True
limit = 60
near = lambda: 0 < cart.gap() < limit
print(wait_until(lambda: cart.dose() > 634, 3))
cart.wheels(40, 40)
ok = wait_until(near)
limit = 20
cart.wheels(15, 15)
ok2 = wait_until(lambda d=limit: cart.touched() or 0 < cart.gap() < d)
cart.halt()
cart.call(f"{ok} {ok2}")
actions = [lambda: cart.wheels(5, 5), lambda: cart.pause(0.3), cart.halt]
for a in actions: a()
names = sorted({"b": 2, "A": 1}, key=str.lower)
cart.call("".join(map(str.upper, names)) + "x-y".rpartition("-")[2])
