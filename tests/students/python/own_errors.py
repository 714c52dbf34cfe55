from cart import *
counts = {}
def count(what): counts[what] = counts.get(what, 0) + 1
def safe(f, *args, default=None):
    try:
        return f(*args)
    except (ZeroDivisionError, TypeError, KeyError, IndexError) as e:
        count(type(e).__name__)
        return default
print(safe(lambda a, b: a / b, 1, 0), safe(lambda: [][1]), safe(lambda: {}["a"], default="?"), safe(len, 5))
def retry(n):
    for attempt in range(n):
        try:
            if attempt < 2: raise RuntimeError("try %d" % attempt)
            wheels(attempt * 10, 10)
            return attempt
        except RuntimeError as e:
            call(str(e))
            pause(0.1)
        finally:
            count("finally")
    return -1
wheels(retry(4) * 10, counts["finally"] * 5); pause(.1)
class Oops(Exception): pass
try:
    raise Oops("mine")
except Oops as e:
    call("caught " + str(e))
halt()
call(", ".join(f"{k}={v}" for k, v in sorted(counts.items())))
