from cart import *
from enum import Enum, IntEnum, auto


class Mode(Enum):
    SEEK = auto()
    TURN = auto()
    REST = "rest"


class Speed(IntEnum):
    SLOW = 20
    FAST = SLOW + 30


class Way(Enum):
    LEFT = 1
    RIGHT = 2
    PORT = 1

    def other(self):
        return Way.RIGHT if self is Way.LEFT else Way.LEFT


def said(*values):
    for value in values:
        call(str(value))


said(Mode.SEEK.name, Mode.SEEK.value, Mode.TURN.value, Mode.REST.value, Mode.REST)
said(Mode.SEEK == Mode.SEEK, Mode.SEEK == 1, Mode(2).name, Mode["REST"], len(Mode), [one.name for one in Mode])
said(repr(Mode.TURN), f"{Mode.TURN}", f"{Mode.TURN:>12}", "%s" % Mode.TURN, "{!s}".format(Mode.SEEK), "{!r}".format(Mode.SEEK))
said(Speed.FAST + 1, Speed.SLOW < Speed.FAST, f"{Speed.FAST:04d}", "%d" % Speed.SLOW, Speed.FAST)
said(Way.PORT is Way.LEFT, Way.LEFT.other().name, Way(1).name, len(Way))
try:
    Way(9)
except ValueError as problem:
    call(str(problem))
call("{name} at {value:.1f}".format(name="cart", value=2.25))
table = {"a": 1}
table.update(value=2, name=3)
said(table["value"], table["name"], dict(values=3)["values"], round(2.567, ndigits=1), sum([1, 2], start=4))


def kept(value, name="n", callee="c"):
    return f"{value}-{name}-{callee}"


do = kept
said(do(value=1), do(1, callee=2, name=3))
call("x  # and the outputs y")
call("v if counted_ else 0) w")
said(*["nonlocal now", "# what the functions share", "if acts != ", "times["])
wheels(Speed.SLOW, Speed.FAST)


def stopped():
    pause(0.2)
    return "stopped"


call(stopped())
try:
    raise KeyboardInterrupt
except KeyboardInterrupt:
    call("interrupted")
finally:
    call("finally")
try:
    import sys

    sys.exit(3)
except:  # noqa: E722
    call("caught the end")
try:
    sys.exit("bye")
except Exception:
    call("never")
finally:
    call("at the end")
