"""A slow, plain runner: the meaning of the notation written down once more, without any cleverness.

It goes from instant to instant at which anything can change, and looks at every lane there, in the order in which they
are written. It takes nothing from the real runner, which must make the same commands, bars, events and end, bit for
bit; and it refuses what it does not know.
"""

import math
from fractions import Fraction
from itertools import pairwise

from geduld.binding import terms

STYLES = {"": 0, "brake": 2, "coast": 3}
SECOND = 1_000_000


class Done(Exception):
    """The program finished."""


class Abandoned(Exception):
    """A guard holds."""


class Left(Exception):
    """A loop was left."""


class Wait:
    """What a lane waits for: its own end, which `over` tells at an instant, and the guards around it.

    `over` gives None while it goes on, True for its own reason, False when the patience ran out. `dues` are instants at
    which to look besides the samples. `move` sets what it keeps moving.
    """

    def __init__(self, line, over, dues=lambda: (), conditions=(), move=None, state="waiting"):
        self.line, self.over, self.dues, self.conditions = line, over, dues, conditions
        self.move, self.state, self.moved = move, state, ()


class Lane:
    """A lane: its steps as a generator that yields waits, and where it stands."""

    def __init__(self, steps, name, order, guards, parent=None):
        self.steps, self.name, self.order, self.parent = steps, name, order, parent
        self.guards = list(guards)
        self.wait, self.since, self.inside, self.why = None, 0, 0, []
        self.known = {}


class PlainRunner:
    def __init__(self, bound, rig, trace, end):
        self.rig, self.trace, self.end = rig, trace, end
        self.now = 0
        self.values = [math.nan] * len(bound.variables)
        self.commands = {p.name: [(0, math.nan if p.kind.word == "servo" else 0.0)] for p in rig.outputs}
        self.bars, self.events, self.controls = [], [], {}
        self.seen = {}
        self.why, self.ended_at = "finished", 0
        self.lanes, self.lane = [], None
        first = Lane(None, "begin", (), ())
        first.steps = self.block(bound.steps)
        try:
            self.go_on(first, None)
            while self.lanes and self.now <= end:
                self.wake_all()
                self.now = min(self.next_instants(), default=end + 1)
            if self.lanes:
                self.why, self.now = "time", end
                self.cut(end + 1)
        except Done:
            self.cut(self.now)
        self.ended_at = self.now

    # lanes

    def go_on(self, lane, reason):
        """Lets a lane go on to its next wait, with the reason for which the last one ended."""
        before, self.lane = self.lane, lane
        try:
            if isinstance(reason, Abandoned):
                lane.wait = lane.steps.throw(reason)
            else:
                lane.wait = lane.steps.send(reason)
            lane.since, lane.known = self.now, {}
            if lane.wait is not None:
                self.lanes = sorted([*self.lanes, lane], key=lambda each: each.order)
        except StopIteration:
            self.over(lane)
        except Abandoned as gone:
            lane.parent.why.append(gone.args[0])
            self.over(lane)
        finally:
            self.lane = before

    def over(self, lane):
        """A lane has ended; when it was the last of its side by side, the lane around goes on."""
        parent = lane.parent
        if parent is None:
            raise Done
        parent.inside -= 1
        if not parent.inside and parent.wait is None:
            self.go_on(parent, self.called(parent))

    def called(self, parent):
        """Of the guards that called lanes out the innermost, as the reason for the lane around; None without any."""
        found = [guard for guard in parent.guards if any(guard is why for why in parent.why)]
        return Abandoned(found[-1]) if found else True

    def wake_all(self):
        """Wakes each lane whose wait is over, the first in order first; then moves what the others keep moving."""
        while True:
            for lane in self.lanes:
                guard = next((guard for guard in lane.guards if self.noticed(guard, lane)), None)
                reason = Abandoned(guard) if guard is not None else lane.wait.over(self.now)
                if reason is not None:
                    break
            else:
                break
            self.lanes.remove(lane)
            self.write_down(lane, self.now)
            self.go_on(lane, reason)
        for lane in self.lanes:
            if lane.wait.move is not None:
                lane.wait.move(self.now)

    def next_instants(self):
        """The next sample, and the later instants at which something that is waited for may come."""
        yield from (tick for tick in self.trace.times.tolist() if tick > self.now)
        for lane in self.lanes:
            yield from (tick for tick in lane.wait.dues() if tick > self.now)
            for condition in (*lane.wait.conditions, *lane.guards):
                yield from (tick for tick in self.meetings(condition) if tick > self.now)

    def write_down(self, lane, stop):
        """Notes how long a wait lasted; passes that follow each other are one bar."""
        wait = lane.wait
        if stop <= lane.since:
            return
        stop = min(stop, self.end)
        bar = (wait.line, lane.since, stop, wait.state, lane.name)
        last = next((k for k in range(len(self.bars) - 1, -1, -1) if self.bars[k][4] == lane.name), None)
        if wait.state == "looping" and last is not None:
            line, start, until, state, name = self.bars[last]
            if (line, until, state) == (wait.line, lane.since, "looping"):
                self.bars[last] = (line, start, stop, state, name)
                return
        self.bars.append(bar)

    def cut(self, stop):
        for lane in self.lanes:
            self.write_down(lane, stop)

    # values

    def value(self, term, at):
        match term:
            case terms.Const():
                return term.value
            case terms.Encoder():
                return self.encoder(term.part, at)
            case terms.Reading():
                return self.reading(term.part, at)
            case terms.Now():
                return float(at)
            case terms.Timer():
                return (at - self.values[term.index]) / SECOND
            case terms.Variable():
                return self.values[term.index]
            case terms.Clock():
                return at / SECOND
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
        raise TypeError(f"the plain runner does not know {term!r}")

    def reading(self, name, at):
        index = max((k for k, tick in enumerate(self.trace.times.tolist()) if tick <= at), default=-1)
        part, _, word = name.partition(".")
        column = self.trace.channels.get(part)
        if column is None or index < 0:
            return math.nan
        if not word:
            return float(column[index])
        if word == "messages":
            said = [math.nan, *column[: index + 1].tolist()]
            return float(sum(b == b and b != a for a, b in pairwise(said)))
        known = [value for value in column[: index + 1].tolist() if value == value]
        wanted = 1.0 if word == "presses" else 0.0
        return float(sum(b == wanted and a != wanted for a, b in pairwise(known)))

    def encoder(self, name, at):
        """An angle or a speed: recorded, or by the motion model from the commands so far."""
        motor, _, word = name.partition(".")
        column = self.trace.channels.get(name, self.trace.channels.get(f"{motor}.angle"))
        if column is None:
            tick, angle, level = self.turned(motor, at)
            rate = self.rig.turn_rate(motor)
            return angle + level * rate * ((at - tick) / SECOND) if word == "angle" else level * rate
        times = self.trace.times.tolist()
        index = max(k for k, tick in enumerate(times) if tick <= at)
        if word == "angle" or name in self.trace.channels:
            return float(column[index])
        if index == 0:
            return 0.0
        return float(column[index] - column[index - 1]) / ((times[index] - times[index - 1]) / SECOND)

    def turned(self, motor, at):
        """The last command up to an instant: its tick, the angle there, and its level."""
        entries = [entry for entry in self.commands[motor] if entry[0] <= at]
        angle, rate = 0.0, self.rig.turn_rate(motor)
        for (tick, level), (later, _) in pairwise(entries):
            angle += level * rate * ((later - tick) / SECOND)
        return entries[-1][0], angle, entries[-1][1]

    def truth(self, term, at):
        match term:
            case terms.Just():
                return self.reading(term.counter, at) > self.seen[term.index]
            case terms.Junction():
                both = self.truth(term.left, at), self.truth(term.right, at)
                return all(both) if term.word == "and" else any(both)
            case terms.Opposite():
                return not self.truth(term.value, at)
            case terms.Absent():
                return math.isnan(self.value(term.value, at))
            case terms.Compare():
                a, b = self.value(term.left, at), self.value(term.right, at)
                if math.isnan(a) or math.isnan(b):
                    return False
                return {"<": a < b, "<=": a <= b, ">": a > b, ">=": a >= b, "=": a == b, "!=": a != b}[term.sign]
        raise TypeError(f"the plain runner does not know {term!r}")

    # when conditions are looked at

    def looked_at(self, condition, since, known):
        """Whether a condition is looked at now: as the wait begins, at a sample, where its sides meet, or when a value
        that it reads was changed by another lane. `known` keeps what it read when it was looked at last."""
        read = [repr(self.values[t.index]) for t in condition.walk() if type(t) in (terms.Variable, terms.Timer)]
        before, known["read"] = known.get("read", read), read
        return (
            self.now == since or self.now in self.trace.times or read != before or self.now in self.meetings(condition)
        )

    def noticed(self, guard, lane):
        known = lane.known.setdefault(id(guard), {})
        return self.looked_at(guard, lane.since, known) and self.truth(guard, self.now)

    # between samples

    def meetings(self, condition):
        """The ticks around the instants at which the two sides of a comparison meet, where both are straight lines.

        Exact, in fractions: a meeting that falls between two ticks is noticed at the later one.
        """
        for term in condition.walk():
            if not isinstance(term, terms.Compare):
                continue
            for slope, offset in self.straight(term.left):
                for other, other_offset in self.straight(term.right):
                    if slope != other:
                        meet = math.floor((other_offset - offset) / (slope - other))
                        yield from range(meet - 1, meet + 3)

    def straight(self, term):
        """The straight lines over time that a value may follow, as (change a tick, value at 0); none for a reading."""
        known = self.fixed(term)
        if known is not None:
            return [(Fraction(0), known)]
        match term:
            case terms.Clock():
                return [(Fraction(1, SECOND), Fraction(0))]
            case terms.Timer() if math.isfinite(self.values[term.index]):
                return [(Fraction(1, SECOND), Fraction(-self.values[term.index]) / SECOND)]
            case terms.Encoder():
                motor, _, word = term.part.partition(".")
                if any(motor in lane.wait.moved for lane in self.lanes):
                    return []  # what a wait keeps moving turns along no straight line
                tick, angle, level = self.turned(motor, self.now)
                speed = Fraction(level) * Fraction(self.rig.turn_rate(motor)) / SECOND
                return [(speed, angle - speed * tick)] if word == "angle" else [(Fraction(0), speed * SECOND)]
            case terms.Function():
                found = [line for value in term.values for line in self.straight(value)]
                return found + [(-slope, -offset) for slope, offset in found]
            case terms.Arithmetic():
                pairs = [(a, b) for a in self.straight(term.left) for b in self.straight(term.right)]
                return [line for a, b in pairs for line in self.joined(term.sign, a, b)]
        return []

    def is_recorded(self, name):
        return name in self.trace.channels or f"{name.partition('.')[0]}.angle" in self.trace.channels

    def fixed(self, term):
        """A value that does not vary until the next sample."""
        for leaf in term.walk():
            if isinstance(leaf, terms.Clock | terms.Timer) or (
                isinstance(leaf, terms.Encoder) and not self.is_recorded(leaf.part)
            ):
                return None
        value = self.value(term, self.now)
        return Fraction(value) if math.isfinite(value) else None

    @staticmethod
    def joined(sign, a, b):
        if sign in "+-":
            turn = 1 if sign == "+" else -1
            return [(a[0] + turn * b[0], a[1] + turn * b[1])]
        if sign == "*" and 0 in (a[0], b[0]):
            return [(a[0] * b[1] + b[0] * a[1], a[1] * b[1])]
        if sign == "/" and b[0] == 0 and b[1] != 0:
            return [(a[0] / b[1], a[1] / b[1])]
        return []

    # steps

    def look(self, *conditions):
        """What has just become so is what was not there when it was asked last."""
        for just in self.justs(conditions):
            self.seen[just.index] = self.values[just.index]
            self.values[just.index] = self.reading(just.counter, self.now)

    def look_afresh(self, *conditions):
        for just in self.justs(conditions):
            self.seen[just.index] = self.values[just.index] = self.reading(just.counter, self.now)

    @staticmethod
    def justs(conditions):
        return [term for condition in conditions for term in condition.walk() if isinstance(term, terms.Just)]

    def ticks(self, term):
        seconds = self.value(term, self.now)
        return round(seconds * SECOND) if seconds > 0 else 0

    def put(self, name, value, line, control=0):
        ways = [entry for entry in self.controls.get(name, [(0, 0)]) if entry[0] < self.now or entry == (0, 0)]
        if self.now == 0:
            ways = []
        self.controls[name] = ways + ([(self.now, control)] if not ways or ways[-1][1] != control else [])
        if math.isnan(value):
            if not any(kind == "absent" and at_line == line for _, kind, at_line in self.events):
                self.events.append((self.now, "absent", line))
            return
        value = self.rig.parts[name].clamp(value)
        before = [entry for entry in self.commands[name] if entry[0] < self.now]
        changed = not before or before[-1][1] != value
        self.commands[name] = before + ([(self.now, value)] if changed else [])

    def rest(self, names, line):
        for name in names:
            self.put(name, 0.0, line)

    def block(self, steps):
        for step in steps:
            yield from self.step(step)

    def until(self, line, ending, move=None):
        """The wait for a condition that must hold for a time, with a patience."""
        self.look_afresh(ending.condition)
        condition, start = ending.condition, self.now
        held = self.ticks(ending.held) if ending.held else 0
        deadline = start + self.ticks(ending.patience) if ending.patience else math.inf
        known = {"since": None}

        def over(now):
            read = known.get("read")
            if self.looked_at(condition, start, known):
                if not self.truth(condition, now):
                    known["since"] = None
                elif known["since"] is None or read != known["read"]:
                    known["since"] = now  # the time counts from when another lane last changed what it reads
            if known["since"] is not None and now - known["since"] >= held:
                return True
            return False if now >= deadline else None

        def dues():
            return [tick for tick in (deadline, (known["since"] or 0) + held) if tick < math.inf]

        return Wait(line, over, dues, (condition,), move)

    def lasting(self, line, stop, move=None, state="waiting", dues=()):
        return Wait(line, lambda now: True if now >= stop else None, lambda: [stop, *dues], (), move, state)

    def ending(self, step, line, ending, stops, abandons, move=None):
        """A step's ending, whatever it is; what a guard calls out of it stops is `abandons`."""
        if isinstance(ending, terms.Until):
            wait = self.until(line, ending, move)
        elif isinstance(ending, terms.Travel):
            wait = self.travel(line, ending, move)
        else:
            wait = self.lasting(line, self.now + self.ticks(ending), move)
        if move is not None:
            wait.moved = [name for name, _ in step.settings]
        try:
            came = yield wait
        except Abandoned:
            self.rest(abandons, line)
            raise
        if isinstance(step, terms.Ramp):
            return
        self.rest(stops, line)
        if not came:
            self.events.append((self.now, "patience", line))
            yield from self.block(ending.otherwise)

    def travel(self, line, travel, move):
        """A measured way: by what was recorded, or by the motion model, whose rate may change on the way."""
        if not any(kind == "move" and at_line == line for _, kind, at_line in self.events):
            self.events.append((self.now, "move", line))
        amount, start = self.value(travel.amount, self.now), self.now
        angles = [f"{name}.angle" for name, _, _ in travel.wheels]
        if not amount > 0:
            return self.lasting(line, start, move)
        if travel.by == "encoder" and all(name in self.trace.channels for name in angles):

            def over(now):
                ways = zip(angles, travel.wheels, strict=True)
                made = sum(way * (self.encoder(name, now) - self.encoder(name, start)) for name, (_, way, _) in ways)
                return True if abs(made) >= amount else None

            return Wait(line, over, move=move)
        made = {"way": 0.0, "since": start, "rate": self.rate(travel)}

        def due():
            way, rate = made["way"], made["rate"]
            if abs(way) >= amount:
                return made["since"]
            if rate == 0 or not math.isfinite(rate):
                return math.inf
            return made["since"] + round((math.copysign(amount, rate) - way) / rate * SECOND)

        def moved(now):
            before = self.rate(travel)
            move(now)
            if self.rate(travel) != before:
                made["way"] += made["rate"] * ((now - made["since"]) / SECOND)
                made["since"], made["rate"] = now, self.rate(travel)

        dues = lambda: [due()] if due() < math.inf else []  # noqa: E731
        return Wait(line, lambda now: True if now >= due() else None, dues, (), moved if move else None)

    def rate(self, travel):
        rate = 0.0
        for name, _, timed in travel.wheels:
            rate += self.commands[name][-1][1] * timed
        return rate

    def step(self, step):
        match step:
            case terms.Command():
                for name, value in step.settings:
                    self.put(name, self.value(value, self.now), step.line, int(step.regulated))
                if step.ending is not None:
                    yield from self.ending(step, step.line, step.ending, step.stops, step.abandons)
            case terms.Follow():
                yield from self.follow(step)
            case terms.Ramp():
                yield from self.ramp(step)
            case terms.Bands():
                yield from self.bands(step)
            case terms.Halt():
                for name in step.parts:
                    is_motor = self.rig.parts[name].kind.word == "motor"
                    self.put(name, 0.0, step.line, STYLES[step.style] if is_motor else 0)
            case terms.Wait():
                yield from self.ending(step, step.line, step.ending, (), ())
            case terms.Assign():
                self.values[step.index] = self.value(step.value, self.now)
            case terms.Note() | terms.Send():
                self.events.append((self.now, "note" if isinstance(step, terms.Note) else "send", step.line))
            case terms.Finish():
                self.events.append((self.now, "finish", step.line))
                raise Done
            case terms.Guarded():
                yield from self.guarded(step)
            case terms.Leave():
                raise Left
            case terms.Branches():
                self.look(*(condition for condition, _ in step.arms if condition is not None))
                for condition, body in step.arms:
                    if condition is None or self.truth(condition, self.now):
                        yield from self.block(body)
                        break
            case terms.Repeat():
                yield from self.repeat(step)
            case terms.Side():
                yield from self.side(step)
            case _:
                raise TypeError(f"the plain runner does not know {step!r}")

    def follow(self, step):
        start = self.now

        def move(now):
            if now > start and now in self.trace.times:
                found = [(name, self.value(value, now)) for name, value in step.settings]
                for name, value in found:
                    self.put(name, value, step.line, int(step.regulated))

        for name, value in [(name, self.value(value, start)) for name, value in step.settings]:
            self.put(name, value, step.line, int(step.regulated))
        yield from self.ending(step, step.line, step.ending, step.stops, step.abandons, move)

    def ramp(self, step):
        start, over, loop = self.now, self.ticks(step.over), self.rig.loop_us
        first, last = self.value(step.start, start), self.value(step.stop, start)
        passes = range(start + loop, start + over, loop)

        def move(now):
            if now in passes:
                for name in step.parts:
                    level = first + (last - first) * ((now - start) / over)
                    self.put(name, level, step.line, int(step.regulated))

        for name in step.parts:
            self.put(name, first, step.line, int(step.regulated))
        wait = self.lasting(step.line, start + over, move, dues=passes)
        wait.moved = step.parts
        try:
            yield wait
        except Abandoned:
            self.rest(step.abandons, step.line)
            raise
        for name in step.parts:
            self.put(name, last, step.line, int(step.regulated))
        self.rest(step.stops, step.line)

    def guarded(self, step):
        self.look_afresh(step.condition)
        if self.truth(step.condition, self.now):
            yield from self.block(step.handler)
            return
        lane = self.lane
        depth = len(lane.guards)
        lane.guards.append(step.condition)
        try:
            yield from self.block(step.body)
            return
        except Abandoned as gone:
            if gone.args[0] is not step.condition:
                raise
        finally:
            del lane.guards[depth:]
        yield from self.block(step.handler)

    def side(self, step):
        parent = self.lane
        parent.inside, parent.why, parent.wait = len(step.lanes), [], self  # not waiting yet: all must begin first
        for place, (name, body) in enumerate(step.lanes):
            lane = Lane(None, name, (*parent.order, place), parent.guards, parent)
            lane.steps = self.block(body)
            self.go_on(lane, None)
        if parent.inside:
            parent.wait = None
            yield None
        elif (called := self.called(parent)) is not True:
            raise called

    def bands(self, step):
        value = self.value(step.value, self.now)
        if math.isnan(value):
            yield from self.block(step.absent)
            return
        last = self.values[step.index]
        lows, highs = [-math.inf, *step.edges], [*step.edges, math.inf]
        if not math.isnan(last) and lows[int(last)] - step.slack <= value < highs[int(last)] + step.slack:
            chosen = int(last)
        else:
            chosen = next(k for k in range(len(lows)) if lows[k] <= value < highs[k])
        self.values[step.index] = float(chosen)
        yield from self.block(step.bodies[chosen])

    def repeat(self, step):
        count = 0
        times = self.value(step.value, self.now) if step.form == "times" else math.inf
        while count < times:
            if step.form in ("while", "until"):
                self.look(step.value)
            if step.form == "while" and not self.truth(step.value, self.now):
                break
            if step.form == "until" and self.truth(step.value, self.now):
                break
            count += 1
            start = self.now
            try:
                yield from self.block(step.body)
            except Left:
                break
            if self.now == start:
                yield self.lasting(step.line, start + self.rig.loop_us, state="looping")
