"""A slow, plain runner: the meaning of the notation written down once more, without any cleverness.

It walks the bound steps and looks at every instant at which anything can change, one by one. The real
runner must make the same commands, bars, events and end, bit for bit.
"""

import math
from itertools import pairwise

from geduld.binding import terms
from geduld.run.corners import corners
from geduld.run.odometry import SteadyTurn

STYLES = {"": 0, "brake": 2, "coast": 3}


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
        self.bars, self.events, self.controls = [], [], {}
        self.guards = []
        self.seen = {}
        self.motion = {}
        self.why, self.ended_at = "finished", 0
        self.came, self.called = True, None
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
            case terms.Encoder():
                return self.encoder(term.part, at)
            case terms.Reading():
                return self.reading(term.part, at)
            case terms.Now():
                return float(at)
            case terms.Timer():
                return (at - self.values[term.index]) / 1_000_000
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
        """An angle or a speed from the commands so far, and from those that a moving step is going to make."""
        motor, _, word = name.partition(".")
        recorded = self.recorded(name, at)
        if recorded is not None:
            return recorded
        rate = self.rig.turn_rate(motor)
        knots = self.motion.get(motor)
        start = self.steady(motor, at if knots is None else knots[0][0], rate)
        if knots is None:
            tick, angle, level = start
            return angle + level * rate * ((at - tick) / 1_000_000) if word == "angle" else level * rate
        tick, angle, level = start
        angle += level * rate * ((knots[0][0] - tick) / 1_000_000)
        tick, level = knots[0]
        for later, next_level in knots[1:]:
            if later > at:
                break
            angle += level * rate * ((later - tick) / 1_000_000)
            tick, level = later, next_level
        return angle + level * rate * ((at - tick) / 1_000_000) if word == "angle" else level * rate

    def recorded(self, name, at):
        """What the trace says of an angle or a speed, or None where it says nothing."""
        motor, _, word = name.partition(".")
        column = self.trace.channels.get(name, self.trace.channels.get(f"{motor}.angle"))
        if column is None:
            return None
        times = self.trace.times.tolist()
        index = max(k for k, tick in enumerate(times) if tick <= at)
        if word == "angle" or name in self.trace.channels:
            return float(column[index])
        if index == 0:
            return 0.0
        return float(column[index] - column[index - 1]) / ((times[index] - times[index - 1]) / 1_000_000)

    def steady(self, motor, at, rate):
        """The last command up to an instant: its tick, the angle there, and its level."""
        entries = [entry for entry in self.commands[motor] if entry[0] <= at]
        angle = 0.0
        for (tick, level), (later, _) in pairwise(entries):
            angle += level * rate * ((later - tick) / 1_000_000)
        return entries[-1][0], angle, entries[-1][1]

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
        a, b = self.value(term.left, at), self.value(term.right, at)
        if math.isnan(a) or math.isnan(b):
            return False
        return {"<": a < b, "<=": a <= b, ">": a > b, ">=": a >= b, "=": a == b, "!=": a != b}[term.sign]

    def instants(self, condition):
        found = set(self.trace.times.tolist())
        kept = dict(enumerate(self.values))
        for term in condition.walk():
            if isinstance(term, terms.Encoder):
                motor = term.part.partition(".")[0]
                if self.recorded(term.part, 0) is not None:
                    continue
                if motor in self.motion:
                    found |= {tick for tick, _ in self.motion[motor]}
                    continue
                tick, angle, level = self.steady(motor, self.now, self.rig.turn_rate(motor))
                speed = level * self.rig.turn_rate(motor)
                is_angle = term.part.endswith(".angle")
                kept[term.part] = SteadyTurn(tick, angle, speed) if is_angle else SteadyTurn(tick, speed, 0.0)
        for term in condition.walk():
            if isinstance(term, terms.Compare):
                found |= set(corners(term, kept))
        return sorted(tick for tick in found if 0 <= tick <= self.trace.times[-1])

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
        self.called = None
        if call[0] <= until:
            self.pass_time(line, call[0], state)
            self.called = self.guards[call[1]]
            raise Abandoned(self.called)
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
            self.look_afresh(ending.condition)
            came = self.until(line, ending)
        elif isinstance(ending, terms.Travel):
            came = True
            self.wait(line, self.travelled(line, ending))
        else:
            came = True
            self.wait(line, self.now + self.ticks(ending))
        self.in_progress = None
        self.came = came
        for name in stops:
            self.put(name, 0.0, line)
        if not came:
            self.events.append((self.now, "patience", line))
            self.block(ending.otherwise)

    def travelled(self, line, travel):
        if not any(kind == "move" and at_line == line for _, kind, at_line in self.events):
            self.events.append((self.now, "move", line))
        amount, start = self.value(travel.amount, self.now), self.now
        if not amount > 0:
            return start
        angles = [f"{name}.angle" for name, _, _ in travel.wheels]
        if travel.by == "encoder" and all(name in self.trace.channels for name in angles):
            ways = [way for _, way, _ in travel.wheels]
            for tick in [start, *(tick for tick in self.trace.times.tolist() if tick > start)]:
                turned = [self.recorded(name, tick) - self.recorded(name, start) for name in angles]
                if abs(sum(way * turn for way, turn in zip(ways, turned, strict=True))) >= amount:
                    return tick
            return math.inf
        motors = [name for name, _, _ in travel.wheels]
        knots = sorted({start, *(t for name in motors for t, _ in self.motion.get(name, []))})
        made = 0.0
        for index, knot in enumerate(knots):
            rate = 0.0
            for name, _, timed in travel.wheels:
                entries = self.motion.get(name, [(start, self.commands[name][-1][1])])
                rate += next(level for tick, level in reversed(entries) if tick <= knot) * timed
            if index + 1 < len(knots):
                further = made + rate * ((knots[index + 1] - knot) / 1_000_000)
                if abs(further) < amount:
                    made = further
                    continue
            if rate == 0:
                return math.inf
            return knot + round((math.copysign(amount, rate) - made) / rate * 1_000_000)

    def step(self, step):
        match step:
            case terms.Command():
                for name, value in step.settings:
                    self.put(name, self.value(value, self.now), step.line, int(step.regulated))
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
                    is_motor = self.rig.parts[name].kind.word == "motor"
                    self.put(name, 0.0, step.line, STYLES[step.style] if is_motor else 0)
            case terms.Wait():
                self.ending(step.line, step.ending)
            case terms.Assign():
                self.values[step.index] = self.value(step.value, self.now)
            case terms.Note() | terms.Send():
                self.events.append((self.now, "note" if isinstance(step, terms.Note) else "send", step.line))
            case terms.Finish():
                self.events.append((self.now, "finish", step.line))
                raise Done
            case terms.Guarded():
                self.guarded(step)
            case terms.Leave():
                raise Left
            case terms.Branches():
                self.look(*(condition for condition, _ in step.arms if condition is not None))
                for condition, body in step.arms:
                    if condition is None or self.truth(condition, self.now):
                        self.block(body)
                        break
            case terms.Repeat():
                self.repeat(step)

    def follow(self, step):
        start = self.now
        for name, value in step.settings:
            self.put(name, self.value(value, start), step.line, int(step.regulated))
        moves = self.foresee(step, start)
        guards, held = list(self.guards), dict(self.seen)
        probe = PlainRunner.__new__(PlainRunner)
        probe.__dict__ = {**self.__dict__, "bars": [], "events": list(self.events), "values": list(self.values)}
        probe.seen = held
        plain = step.ending
        if isinstance(plain, terms.Until):
            plain = terms.Until(plain.condition, plain.held, plain.patience, (), False)
        try:
            probe.ending(step.line, plain)
            stop = probe.now
        except Over:
            stop = self.end + 1
        except Abandoned:
            stop = probe.now
        self.guards = guards
        self.motion = {}
        calm = self.commands
        self.commands = {name: list(entries) for name, entries in calm.items()}
        for tick, name, value in moves:
            if tick < stop and tick <= self.end:
                self.now = tick
                self.put(name, value, step.line, int(step.regulated))
        self.now = start
        self.fixed_ending(step, int(min(stop, self.end + 1)), probe)

    def foresee(self, step, start):
        """What a moving step is going to command, sample by sample; its own angles move with it."""
        moves = []
        motors = [name for name, _ in step.settings if self.rig.turn_rate(name) is not None and "." not in name]
        self.motion = {name: [(start, self.commands[name][-1][1])] for name in motors}
        for tick in self.trace.times.tolist():
            if not start < tick <= self.end:
                continue
            found = [(name, self.value(value, tick)) for name, value in step.settings]
            for name, value in found:
                moves.append((tick, name, value))
                if name in self.motion and not math.isnan(value):
                    self.motion[name].append((tick, self.rig.parts[name].clamp(value)))
        return moves

    def fixed_ending(self, step, stop, probe):
        """The step's ending, whose instant is known."""
        for event in probe.events:
            if event[1] == "move" and event not in self.events:
                self.events.append(event)
        self.values, self.seen = probe.values, probe.seen
        called = stop <= self.end and probe.called is not None
        try:
            self.pass_time(step.line, stop, "waiting")
        finally:
            self.in_progress = None
        if called:
            for name in step.abandons:
                self.put(name, 0.0, step.line)
            raise Abandoned(probe.called)
        for name in step.stops:
            self.put(name, 0.0, step.line)
        if not probe.came:
            self.events.append((self.now, "patience", step.line))
            self.block(step.ending.otherwise)

    def ramp(self, step):
        start, over = self.now, self.ticks(step.over)
        first, last = self.value(step.start, start), self.value(step.stop, start)
        self.motion = {name: [(start, self.commands[name][-1][1])] for name in step.parts}
        for tick in range(start + self.rig.loop_us, start + over, self.rig.loop_us):
            level = first + (last - first) * ((tick - start) / over)
            for name in step.parts:
                if not math.isnan(level):
                    self.motion[name].append((tick, self.rig.parts[name].clamp(level)))
        call = min((self.first(guard) for guard in self.guards), default=math.inf)
        self.motion = {}
        stop = int(min(start + over, self.end + 1, call)) if call > start else start + 1
        for tick in range(start, max(stop, start + min(over, 1)), self.rig.loop_us):
            self.now = tick
            for name in step.parts:
                level = first if tick == start else first + (last - first) * ((tick - start) / over)
                self.put(name, level, step.line, int(step.regulated))
        self.now = start
        if not over:
            for name in step.parts:
                self.put(name, first, step.line, int(step.regulated))
        try:
            self.wait(step.line, start + over)
        except Abandoned:
            for name in step.abandons:
                self.put(name, 0.0, step.line)
            raise
        for name in step.parts:
            self.put(name, last, step.line, int(step.regulated))
        for name in step.stops:
            self.put(name, 0.0, step.line)

    def guarded(self, step):
        self.look_afresh(step.condition)
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
            if step.form in ("while", "until"):
                self.look(step.value)
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
