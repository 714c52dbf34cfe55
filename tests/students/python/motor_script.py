from cart import *
ports = {"left": "M1", "right": "M2", "valve": "M3"}
motors = {name: Motor(port) for name, port in ports.items()}
script = [
    dict(motor="left", level=30, wait=100),
    dict(motor="right", level=30, wait=400),
    dict(motor="valve", level=80, wait=200),
    {"motor": "left", "level": 0},
    {"motor": "right"},
    {"motor": "valve", "level": 0, "wait": 0},
]
for step in script:
    name, level = step["motor"], step.get("level", 0)
    motors[name].power(level)
    rest(step.get("wait", 50))
for mot in motors.values(): mot.stop()
first, *others = sorted(ports, key=str.lower, reverse=False)
call(first + " ".join(others).title())
