from cart import *


def slow(text):
    pause(0.1)
    return text


print("before", slow("after"))
print(slow("one"), end="")
print("two", "three", sep="-")
print("x  # and the outputs y", "v if counted_ else 0) w")
wheels(30, 30)
print(f"{slow('four')!r}", [1, 2.5, None, "a"], {"k": (1,)})
