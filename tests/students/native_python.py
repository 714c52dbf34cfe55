"""Runs a Python program by Python itself, with stub words in virtual time: what Geduld's own reading is held against.

It shares no code with Geduld's reader. Loops are instrumented in the program's tree, words are plain functions on a
virtual clock, and readings come from the recording's rows.
"""

import ast
import importlib.abc
import importlib.machinery
import math
import sys
import types
from bisect import bisect_right


class WorldEnds(BaseException):
    pass


class Idle(BaseException):
    pass


class Clock:
    """The world of one run: the clock, what was commanded, and how often the world was touched."""

    def __init__(self, trace, rig, end):
        self.times = trace.times.tolist()
        self.columns = {name: values.tolist() for name, values in trace.channels.items()}
        self.texts = trace.texts
        self.rig = rig
        self.end = end
        self.now = 0
        self.touched = 0
        self.commands = {name: [(0, value)] for name, value in rig.at_rest}
        self.said = []

        self.printed = []
        self.hooks = {}
        self.pending = []
        self.performing = False

    def print(self, *values, sep=" ", end="\n"):
        text = sep.join(map(str, values)) + ("" if end == "\n" else end.rstrip("\n"))
        self.printed += [(self.now, line) for line in text.split("\n")]

    def go(self, ticks):
        target = self.now + max(0, ticks)
        while self.hooks and (edge := self.next_edge(target)):
            self.now, name = max(self.now, edge[0]), edge[1]
            self.hooks[name][1] = edge[0]
            if name not in self.pending:
                self.pending.append(name)
            self.perform()
            target = max(target, self.now)
        self.now = target
        if self.now > self.end:
            raise WorldEnds

    def perform(self):
        while self.pending and not self.performing:
            self.performing = True
            self.hooks[self.pending.pop(0)][0]()
            self.performing = False

    def next_edge(self, until):
        """The first instant up to `until` at which a contact that has a handler is pressed anew."""
        found = []
        for name, (_, since) in self.hooks.items():
            column = self.columns.get(name, [])
            for before, after, tick in zip(column, column[1:], self.times[1:], strict=False):
                if tick > until:
                    break
                if tick > since and before == 0 and after == 1:
                    found.append((tick, name))
                    break
        return min(found, default=None)

    def hook(self, name, handler):
        self.touched += 1
        self.hooks.pop(name, None)
        if handler is not None:
            self.hooks[name] = [handler, self.now]

    def until_called(self):
        edge = self.next_edge(self.end)
        if edge is None or self.performing:
            raise WorldEnds
        self.go(edge[0] - self.now)

    def sleep(self, seconds):
        self.touched += 1
        self.go(round(seconds * 1_000_000))

    def read(self, name):
        self.touched += 1
        index = bisect_right(self.times, self.now) - 1
        return self.columns[name][index] if index >= 0 and name in self.columns else math.nan

    def put(self, name, value):
        self.touched += 1
        if self.now > self.end:
            raise WorldEnds
        low, high = self.rig.parts[name].bounds
        value = min(max(float(value), low), high)
        entries = self.commands[name]
        if entries[-1][0] == self.now:
            entries.pop()
        if not entries or entries[-1][1] != value:
            entries.append((self.now, value))


class Turns:
    """The passes of one loop: one that took no time and touched the world costs a pass of the rig's loop."""

    def __init__(self, clock):
        self.clock = clock
        self.before = None
        self.quiet = 0

    def turn(self):
        clock = self.clock
        if self.before is not None and self.before[0] == clock.now:
            if clock.touched > self.before[1]:
                clock.go(clock.rig.loop_us)
            else:
                self.quiet += 1
                if self.quiet > 3000:
                    if not clock.hooks:
                        raise Idle
                    self.quiet = 0
                    clock.until_called()
        self.before = (clock.now, clock.touched)
        return True


class Instrument(ast.NodeTransformer):
    def __init__(self):
        self.count = 0

    def visit_While(self, node):
        self.generic_visit(node)
        self.count += 1
        name = f"turns__{self.count}"
        begin = ast.parse(f"{name} = Turns__(clock__)").body[0]
        turn = ast.parse(f"{name}.turn()", mode="eval").body
        node.test = ast.BoolOp(ast.And(), [turn, node.test])
        return [begin, node]


def words(clock):
    """The module `cart`, as its wordbook describes it."""
    cart = types.ModuleType("cart")

    def reading(name):
        value = clock.read(name)
        return None if math.isnan(value) else value

    def gap():
        clock.go(12_000)
        value = reading("range")
        return -1 if value is None else value

    def echo():
        value = reading("range")
        return None if value is None else value * 10

    def wheels(left, right):
        clock.put("left", left)
        clock.put("right", right)

    class Motor:
        def __init__(self, port):
            self.part = {"M1": "left", "M2": "right", "M3": "valve"}[port]

        def power(self, level):
            clock.put(self.part, level)

        def stop(self):
            clock.put(self.part, 0)

    def seconds():
        clock.touched += 1
        return clock.now / 1_000_000

    def call(text):
        clock.touched += 1
        clock.said.append((clock.now, text))

    def glow(level):
        clock.put("lamp", level * 100)

    def spray(level):
        clock.put("valve", level * 100 / 255)

    for name, word in {
        "wheels": wheels, "gap": gap, "echo": echo, "Motor": Motor, "seconds": seconds, "call": call, "glow": glow,
        "spray": spray, "halt": lambda: wheels(0, 0), "pause": clock.sleep,
        "rest": lambda time: clock.sleep(time / 1000), "touched": lambda: reading("nose") == 1,
        "scraped": lambda: reading("nose_left") == 1,
        "dose": lambda: None if (v := reading("knob")) is None else round(v * 1023 / 100),
        "bright": lambda: reading("light"),
        "dry": lambda: None if (v := reading("soil")) is None else int(v * 255 / 100),
        "aim": lambda angle: clock.put("nozzle", angle), "heard": lambda: clock.texts.get(reading("radio")), "latest": lambda: clock.texts.get(reading("radio"), ""),
        "when_pressed": lambda port, handler: clock.hook({"D1": "nose", "D2": "nose_left"}[port], handler),
        "GREEN": 2, "BACK": "M2",
    }.items():  # fmt: skip
        setattr(cart, name, word)
    clockwork = types.ModuleType("time")
    clockwork.sleep = clock.sleep
    clockwork.time = clockwork.monotonic = clockwork.perf_counter = seconds
    return {"cart": cart, "time": clockwork}


class Beside(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Finds the other files of a program when they are imported, and runs them as the first one is run."""

    def __init__(self, files, go):
        self.files = {name.removesuffix(".py").replace("/", "."): text for name, text in files.items()}
        self.go = go

    def find_spec(self, name, path, target=None):
        package = any(other.startswith(f"{name}.") for other in self.files)
        if name in self.files or package:
            return importlib.machinery.ModuleSpec(name, self, is_package=package)
        return None

    def exec_module(self, module):
        self.go(self.files.get(module.__name__, ""), module.__dict__)


def run(text, trace, rig, end=None, files=()):
    """What a program did: its commands, what it sent, how it ended, and the line of its error."""
    clock = Clock(trace, rig, trace.duration_us if end is None else end)

    def go(text, scope):
        tree = ast.fix_missing_locations(Instrument().visit(ast.parse(text)))
        scope |= {"Turns__": Turns, "clock__": clock, "print": clock.print}
        exec(compile(tree, "<student>", "exec"), scope)

    beside = Beside(dict(files), go)
    held = {name: sys.modules.get(name) for name in ("cart", "time")}
    sys.modules.update(words(clock))
    sys.meta_path.insert(0, beside)
    known = set(sys.modules)
    why, line = "finished", None
    try:
        go(text, {"__name__": "__main__"})
    except WorldEnds:
        why = "time"
    except Idle:
        why = "idle"
    except SystemExit:
        why = "finished"
    except (Exception, KeyboardInterrupt) as problem:
        why, trace_back = "error", problem.__traceback__
        while trace_back:
            if trace_back.tb_frame.f_code.co_filename == "<student>":
                line = trace_back.tb_lineno
            trace_back = trace_back.tb_next
    finally:
        sys.meta_path.remove(beside)
        for name in set(sys.modules) - known:
            del sys.modules[name]
        for name, module in held.items():
            if module is None:
                sys.modules.pop(name, None)
            else:
                sys.modules[name] = module
    return clock, why, line
