from cart import *

program = "FFLRBF"
moves = {"F": (30, 30), "B": (-30, -30), "L": (-20, 20), "R": (20, -20)}
for step in program:
    if step not in moves:
        continue
    wheels(*moves[step])
    pause(0.2)
text = "left:40,right:-15,wait:0.3"
settings = {}
for item in text.split(","):
    key, value = item.split(":")
    settings[key] = float(value)
wheels(settings["left"], settings.get("right", 0))
pause(settings["wait"])
print("done %s with %d steps, %5.2f" % ("x", len(program), settings["wait"]))
print("{} and {:>4}".format(program.lower(), 7))
halt()
