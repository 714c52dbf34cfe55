"""A slow, plain runner: the meaning of the notation written down once more, without any cleverness.

It walks the bound steps and looks at every instant at which anything can change, one by one. The real
runner must make the same commands, bars, events and end, bit for bit.
"""

import math

from geduld.binding import terms


class Over(Exception):
    """The world ended."""


class Done(Exception):
    """The program finished."""


class Abandoned(Exception):
    """A guard holds."""


class Left(Exception):
    """A loop was left."""


class PlainRunner:
    def __init__(self, bound, rig, trace, end):
        self.rig, self.trace, self.end = rig, trace, end
        self.now = 0
        self.values = [math.nan] * len(bound.variables)
        self.commands = {p.name: [(0, math.nan if p.kind.word == "servo" else 0.0)] for p in rig.outputs}
        self.bars, self.events = [], []
        self.guards = []
        self.why, self.ended_at = "finished", 0
        try:
            self.block(bound.steps)
        except Done:
            pass
        except Over:
            self.why, self.now = "time", end
        self.ended_at = self.now

    def value(self, term, at):
        match term:
            case terms.Const():
                return term.value
            case terms.Reading():
                index = max((k for k, tick in enumerate(self.trace.times.tolist()) if tick <= at), default=-1)
                column = self.trace.channels.get(term.part)
                return math.nan if column is None or index < 0 else float(column[index])
            case terms.Variable():
                return self.values[term.index]
            case terms.Clock():
                return at / 1_000_000
            case terms.Arithmetic():
                a, b = self.value(term.left, at), self.value(term.right, at)
                if term.sign == "/":
                    return a / b if b != 0 else math.nan
                return {"+": a + b, "-": a - b, "*": a * b}[term.sign]
            case terms.Function():
                items = [self.value(item, at) for item in term.values]
                if any(math.isnan(item) for item in items):
                    return math.nan
                if term.name == "clamp":
                    return min(max(items[0], items[1]), items[2])
                one = {"abs": abs, "round": lambda x: float(round(x)), "min": min, "max": max}[term.name]
                return one(*items)
        raise TypeError(term)

    def truth(self, term, at):
        match term:
            case terms.Junction():
                both = self.truth(term.left, at), self.truth(term.right, at)
                return all(both) if term.word == "and" else any(both)
            case terms.Opposite():
                return not self.truth(term.value, at)
            case terms.Absent():
                return math.isnan(self.value(term.value, at))
        a, b = self.value(term.left, at), self.value(term.right, at)
        if math.isnan(a) or math.isnan(b):
            return False
        return {"<": a < b, "<=": a <= b, ">": a > b, ">=": a >= b, "=": a == b, "!=": a != b}[term.sign]

    def instants(self, condition):
        found = set(self.trace.times.tolist())
        for term in condition.walk():
            if isinstance(term, terms.Compare):
                for side, other in ((term.left, term.right), (term.right, term.left)):
                    if isinstance(side, terms.Clock):
                        tick = math.floor(self.value(other, 0) * 1_000_000) if self.fixed(other) else None
                        found |= {tick - 1, tick, tick + 1} if tick is not None else set()
        return sorted(tick for tick in found if 0 <= tick <= self.trace.times[-1])

    @staticmethod
    def fixed(term):
        return not any(isinstance(item, terms.Reading | terms.Clock) for item in term.walk())

    def until(self, line, ending):
        held = self.ticks(ending.held) if ending.held else 0
        deadline = self.now + self.ticks(ending.patience) if ending.patience else None
        since = None
        found = None
        looks = sorted({self.now, *(t for t in self.instants(ending.condition) if t > self.now)})
        for index, tick in enumerate(looks):
            if not self.truth(ending.condition, tick):
                since = None
                continue
            since = tick if since is None else since
            following = looks[index + 1] if index + 1 < len(looks) else math.inf
            if since + held < following:
                found = max(since + held, tick)
                break
        if deadline is not None and (found is None or found > deadline):
            self.wait(line, deadline)
            return False
        self.wait(line, math.inf if found is None else found)
        return True

    def ticks(self, term):
        seconds = self.value(term, self.now)
        return round(seconds * 1_000_000) if seconds > 0 else 0

    def wait(self, line, until, state="waiting"):
        calls = [(self.first(guard), order) for order, guard in enumerate(self.guards)]
        call = min(calls, default=(math.inf, 0))
        if call[0] <= until:
            self.pass_time(line, call[0], state)
            raise Abandoned(self.guards[call[1]])
        self.pass_time(line, until, state)

    def first(self, condition):
        looks = [self.now, *(tick for tick in self.instants(condition) if tick > self.now)]
        return next((tick for tick in looks if self.truth(condition, tick)), math.inf)

    def pass_time(self, line, until, state):
        if until > self.now:
            last = self.bars[-1] if self.bars else None
            stop = min(until, self.end)
            if state == "looping" and last and last[0] == line and last[3] == state and last[2] == self.now:
                self.bars[-1] = (line, last[1], stop, state)
            else:
                self.bars.append((line, self.now, stop, state))
        if until > self.end:
            raise Over
        self.now = until

    def put(self, name, value, line):
        if math.isnan(value):
            if not any(kind == "absent" and at_line == line for _, kind, at_line in self.events):
                self.events.append((self.now, "absent", line))
            return
        value = self.rig.parts[name].clamp(value)
        before = [entry for entry in self.commands[name] if entry[0] < self.now]
        changed = not before or before[-1][1] != value
        self.commands[name] = before + ([(self.now, value)] if changed else [])

    def block(self, steps):
        for step in steps:
            self.step(step)

    def ending(self, line, ending, stops=(), abandons=()):
        try:
            self.own_ending(line, ending, stops)
        except Abandoned:
            if self.in_progress == line:
                for name in abandons:
                    self.put(name, 0.0, line)
            raise

    def own_ending(self, line, ending, stops):
        self.in_progress = line
        if isinstance(ending, terms.Until):
            came = self.until(line, ending)
        else:
            came = True
            self.wait(line, self.now + self.ticks(ending))
        self.in_progress = None
        for name in stops:
            self.put(name, 0.0, line)
        if not came:
            self.events.append((self.now, "patience", line))
            self.block(ending.otherwise)

    def step(self, step):
        match step:
            case terms.Command():
                for name, value in step.settings:
                    self.put(name, self.value(value, self.now), step.line)
                if step.ending is not None:
                    self.ending(step.line, step.ending, step.stops, step.abandons)
            case terms.Follow():
                self.follow(step)
            case terms.Ramp():
                self.ramp(step)
            case terms.Bands():
                self.bands(step)
            case terms.Halt():
                for name in step.parts:
                    self.put(name, 0.0, step.line)
            case terms.Wait():
                self.ending(step.line, step.ending)
            case terms.Assign():
                self.values[step.index] = self.value(step.value, self.now)
            case terms.Note():
                self.events.append((self.now, "note", step.line))
            case terms.Finish():
                self.events.append((self.now, "finish", step.line))
                raise Done
            case terms.Guarded():
                self.guarded(step)
            case terms.Leave():
                raise Left
            case terms.Branches():
                for condition, body in step.arms:
                    if condition is None or self.truth(condition, self.now):
                        self.block(body)
                        break
            case terms.Repeat():
                self.repeat(step)

    def follow(self, step):
        start = self.now
        for name, value in step.settings:
            self.put(name, self.value(value, start), step.line)
        probe = PlainRunner.__new__(PlainRunner)
        probe.__dict__ = {**self.__dict__, "bars": [], "events": [], "commands": {}}
        try:
            probe.ending(step.line, terms.Until(step.ending.condition, step.ending.held, step.ending.patience, (), False)
                         if isinstance(step.ending, terms.Until) else step.ending)  # fmt: skip
            stop = probe.now
        except Over:
            stop = self.end + 1
        except Abandoned:
            stop = probe.now
        for tick in self.trace.times.tolist():
            if start < tick < stop and tick <= self.end:
                self.now = tick
                for name, value in step.settings:
                    self.put(name, self.value(value, tick), step.line)
        self.now = start
        self.ending(step.line, step.ending, step.stops, step.abandons)

    def ramp(self, step):
        start, over = self.now, self.ticks(step.over)
        first, last = self.value(step.start, start), self.value(step.stop, start)
        call = min((self.first(guard) for guard in self.guards), default=math.inf)
        stop = int(min(start + over, self.end + 1, call)) if call > start else start + 1
        for tick in range(start, max(stop, start + min(over, 1)), self.rig.loop_us):
            self.now = tick
            for name in step.parts:
                self.put(name, first if tick == start else first + (last - first) * ((tick - start) / over), step.line)
        self.now = start
        if not over:
            for name in step.parts:
                self.put(name, first, step.line)
        try:
            self.wait(step.line, start + over)
        except Abandoned:
            for name in step.abandons:
                self.put(name, 0.0, step.line)
            raise
        for name in step.parts:
            self.put(name, last, step.line)
        for name in step.stops:
            self.put(name, 0.0, step.line)

    def guarded(self, step):
        if self.truth(step.condition, self.now):
            self.block(step.handler)
            return
        self.guards.append(step.condition)
        depth = len(self.guards)
        try:
            self.block(step.body)
        except Abandoned as gone:
            if gone.args[0] is not step.condition:
                raise
            del self.guards[depth - 1 :]
            self.block(step.handler)
            return
        finally:
            del self.guards[depth - 1 :]

    def bands(self, step):
        value = self.value(step.value, self.now)
        if math.isnan(value):
            self.block(step.absent)
            return
        last = self.values[step.index]
        lows, highs = [-math.inf, *step.edges], [*step.edges, math.inf]
        if not math.isnan(last) and lows[int(last)] - step.slack <= value < highs[int(last)] + step.slack:
            chosen = int(last)
        else:
            chosen = next(k for k in range(len(lows)) if lows[k] <= value < highs[k])
        self.values[step.index] = float(chosen)
        self.block(step.bodies[chosen])

    def repeat(self, step):
        count = 0
        times = self.value(step.value, self.now) if step.form == "times" else math.inf
        while count < times:
            if step.form == "while" and not self.truth(step.value, self.now):
                break
            if step.form == "until" and self.truth(step.value, self.now):
                break
            count += 1
            start = self.now
            try:
                self.block(step.body)
            except Left:
                break
            if self.now == start:
                self.wait(step.line, start + self.rig.loop_us, "looping")
