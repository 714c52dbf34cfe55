from cart import *

count = 0
while count < 200:
    word = heard()
    if word is not None and word.startswith("go"):
        wheels(40, 40)
        call("going " + str(count))
    elif word == "stop":
        halt()
    count += 1
    pause(0.1)
