from cart import *
import time

stable = 0
last = touched()
changed = time.perf_counter()
edges = 0
while edges < 4 and seconds() < 25:
    now = touched()
    if now != last:
        last = now
        changed = time.perf_counter()
    if time.perf_counter() - changed > 0.03 and stable != last:
        stable = last
        edges += 1
        wheels(edges * 10, -edges * 10)
halt()
