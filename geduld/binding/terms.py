"""What is run: expressions and steps whose names and dimensions are settled.

Values are floats in base units; an absent reading is NaN. A truth is 1.0 or 0.0.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field, fields

from geduld.language.messages import Hint, Span
from geduld.language.nodes import node
from geduld.language.quantities import COUNT, TIME, TRUTH, Dimension


@node
class Term:
    """An expression with its dimension."""

    dimension: Dimension = field(default=COUNT, kw_only=True)

    def walk(self) -> list[Term]:
        """This term and all terms inside it."""
        found: list[Term] = [self]
        for term in found:
            found += term.inside()
        return found

    @property
    def depth(self) -> int:
        """How many terms stand inside each other at most."""
        depth, level = 0, [self]
        while level:
            depth += 1
            level = [inner for term in level for inner in term.inside()]
        return depth

    def inside(self) -> list[Term]:
        """The terms right inside this one."""
        kind = type(self)
        found: list[Term] = []
        names = _INNER.get(kind)
        if names is None:
            names = _INNER[kind] = _inner(kind)
        for name in names:
            value = getattr(self, name)
            if type(value) is tuple:
                found += value
            else:
                found.append(value)
        return found


_INNER: dict[type[Term], tuple[str, ...]] = {}


def _inner(kind: type[Term]) -> tuple[str, ...]:
    """The fields of a kind of term that hold terms."""
    return tuple(item.name for item in fields(kind) if item.type in ("Term", "tuple[Term, ...]"))


@node
class Const(Term):
    """A known number."""

    value: float


@node
class Reading(Term):
    """A sensor's reading now."""

    part: str


@node
class Encoder(Reading):
    """A motor's angle or speed now. Where nothing measures it, the motion model says it."""

    motor: str


@node
class Output(Term):
    """What an output is commanded to do now. Only checks ask for it."""

    part: str


@node
class Pose(Term):
    """Where the robot is on its floor. Only checks ask for it.

    `what` is `x`, `y`, `heading`, `away` (from the mark `name`), `inside` (how deep in the corridor `name`, negative
    outside) or `off` (how far the heading is from `towards`, round the full turn).
    """

    what: str
    name: str = ""
    towards: float = 0.0


@node
class Told(Term):
    """What a record tells of a run besides its readings and commands. Only checks ask for it.

    `what` is `control` (how the motor `name` is controlled: a code of `run.program.requests`), `turning` or `rolling`
    (how fast it really turns, in deg/s, or its wheel rolls, in cm/s); and as 1 or 0: `sent` or `noted` (at the instant
    of the text `name`), `finished` (from the program's end on; with the text `name` where it is not empty), or `line`
    (while the line `name` waits).
    """

    what: str
    name: str = ""


@node
class Reference(Term):
    """What a reading, an output or the pose is in another run. Only checks ask for it.

    `whose` is `reference` (the reference behaviour's run in the same world) or `partner` (the other device's in this
    run); of the partner what its record tells may be asked too.
    """

    inner: Reading | Output | Pose | Told
    whose: str = "reference"


@node
class Variable(Term):
    """A value kept by `set`."""

    index: int


@node
class Clock(Term):
    """The time since the start."""

    dimension: Dimension = field(default=TIME, kw_only=True)


@node
class Now(Term):
    """This instant's tick, which a timer keeps."""


@node
class Timer(Term):
    """The time since a timer was started; the variable keeps the tick. Absent before."""

    index: int
    dimension: Dimension = field(default=TIME, kw_only=True)


@node
class Just(Term):
    """`is just pressed`: the counter has gone up since this was last asked, or since the wait for it began.

    `counter` is the channel that counts; the variable `index` keeps the count that was seen.
    """

    counter: str
    index: int
    dimension: Dimension = field(default=TRUTH, kw_only=True)


@node
class Arithmetic(Term):
    """`+ - * /`. Division by zero gives an absent value."""

    sign: str
    left: Term
    right: Term


@node
class Function(Term):
    """`abs min max clamp round`; an absent value among its values makes its value absent."""

    name: str
    values: tuple[Term, ...]


@node
class Compare(Term):
    """`< <= > >= = !=`; false when a side is absent."""

    sign: str
    left: Term
    right: Term
    dimension: Dimension = field(default=TRUTH, kw_only=True)


@node
class Junction(Term):
    """`and`, `or`."""

    word: str
    left: Term
    right: Term
    dimension: Dimension = field(default=TRUTH, kw_only=True)


@node
class Opposite(Term):
    """`not`."""

    value: Term
    dimension: Dimension = field(default=TRUTH, kw_only=True)


@node
class Absent(Term):
    """`is absent`: no reading."""

    value: Term
    dimension: Dimension = field(default=TRUTH, kw_only=True)


# Steps


@node
class Step:
    """A step and its line in the text."""

    line: int


@node
class Until:
    """Until a condition holds, with how long it must hold and how long to be patient."""

    condition: Term
    held: Term | None
    patience: Term | None
    otherwise: tuple[Step, ...]
    has_otherwise: bool


@node
class Travel:
    """Until the wheels have made a way: `amount` in cm or deg.

    Each of `wheels` is a motor, what one degree of it adds to the amount, and what one percent of its power adds in
    a second by the motion model (NaN where the rig does not say). `by` is `encoder` or `time`.
    """

    wheels: tuple[tuple[str, float, float], ...]
    amount: Term
    by: str


Ending = Term | Until | Travel


@node
class Command(Step):
    """Sets outputs, waits for the ending, and stops those of `stops`; when it is abandoned, those of `abandons`.

    `regulated`: the motors keep a speed; the settings are the powers at which they have it by the motion model.
    """

    settings: tuple[tuple[str, Term], ...]
    ending: Ending | None
    stops: tuple[str, ...]
    abandons: tuple[str, ...]
    regulated: bool = False


@node
class Follow(Step):
    """Keeps setting outputs from the readings until the ending, then stops those of `stops`."""

    settings: tuple[tuple[str, Term], ...]
    ending: Ending
    stops: tuple[str, ...]
    abandons: tuple[str, ...]
    regulated: bool = False


@node
class Ramp(Step):
    """Takes outputs evenly from one value to another, then stops those of `stops`.

    `onwards`: both values count from where the output is told to be.
    """

    parts: tuple[str, ...]
    start: Term
    stop: Term
    over: Term
    stops: tuple[str, ...]
    abandons: tuple[str, ...]
    regulated: bool = False
    onwards: bool = False


@node
class Bands(Step):
    """Runs one of its bodies: that of the band the value is in.

    `edges` rise; body k stands between edge k-1 and edge k and owns its lower edge. A band is kept until the
    value is past its edge by `slack`; the variable `index` remembers it. `absent` runs without a reading.
    """

    index: int
    value: Term
    edges: tuple[float, ...]
    slack: float
    bodies: tuple[tuple[Step, ...], ...]
    absent: tuple[Step, ...]


@node
class Halt(Step):
    """Stops outputs: motors by `brake` or `coast` where `style` says so, else in their own way."""

    parts: tuple[str, ...]
    style: str = ""


@node
class Wait(Step):
    """Waits a time or until a condition holds."""

    ending: Term | Until


@node
class Repeat(Step):
    """Repeats its body: for ever (`form` is empty), `times`, `while` or `until` the value says so."""

    form: str
    value: Term | None
    body: tuple[Step, ...]


@node
class Side(Step):
    """Lanes that run at the same time: each with its name and its steps."""

    lanes: tuple[tuple[str, tuple[Step, ...]], ...]


@node
class Guarded(Step):
    """Runs its body; the moment the condition holds, abandons it and runs the handler."""

    condition: Term
    body: tuple[Step, ...]
    handler: tuple[Step, ...]


@node
class Leave(Step):
    """Leaves the innermost repeat."""


@node
class Continue(Step):
    """Goes on with the next pass of the innermost repeat. The notation has no word for it; other languages have."""


@node
class Branches(Step):
    """The first arm whose condition holds; the last arm may have none."""

    arms: tuple[tuple[Term | None, tuple[Step, ...]], ...]


@node
class Assign(Step):
    """Gives a variable a value."""

    index: int
    value: Term


@node
class Note(Step):
    """Writes an event into the record. Its text is known, or what the variable of this number holds."""

    text: str | int


@node
class Send(Step):
    """Sends a message: an event in the record. Its text is known, or what the variable of this number holds."""

    text: str | int


@node
class SetLine(Step):
    """Sets a line of the controller to a level. Only words of a wordbook do.

    `pin` is the line's name, or the variable that holds it; `level` is in % where `shares`, else any number but 0 is
    high.
    """

    pin: str | int
    level: Term
    shares: bool = False


@node
class EachTime(Step):
    """Each time the condition comes true, what the variable holds is performed. Only words of a wordbook do."""

    condition: Term
    handler: int


@node
class Finish(Step):
    """Ends the program."""

    why: str | None


def bodies(step: Step) -> tuple[tuple[Step, ...], ...]:
    """The blocks inside a step."""
    if isinstance(step, Command | Wait | Follow):
        ending = step.ending
        return (ending.otherwise,) if type(ending) is Until and ending.has_otherwise else ()
    if isinstance(step, Repeat):
        return (step.body,)
    if isinstance(step, Guarded):
        return (step.body, step.handler)
    if isinstance(step, Side):
        return tuple(body for _, body in step.lanes)
    if isinstance(step, Branches):
        return tuple(body for _, body in step.arms)
    return (*step.bodies, step.absent) if isinstance(step, Bands) else ()


def walk_steps(steps: tuple[Step, ...], loops: int = 0) -> Iterator[tuple[Step, int]]:
    """Every step with the number of repeats it stands in, in the order of the text."""
    for step in steps:
        yield step, loops
        for body in bodies(step):
            yield from walk_steps(body, loops + isinstance(step, Repeat))


@node
class Threshold:
    """A number in the text that a sensor's reading is compared with: a handle on that sensor's lane.

    `factor` is how many of the text's numbers one base unit is, where no unit stands behind the number, and `zero` the
    number that stands for nothing: a converter need not count from 0.
    """

    part: str
    value: float
    span: Span
    unit: str
    factor: float = 0.0
    zero: float = 0.0


SETTINGS = ("output", "edge", "near", "time", "way", "held", "patience")


@node
class Setting:
    """A number in the text that sets something: a handle on an output's lane, on a reading's, or on its line's bar.

    `what` is one of SETTINGS: `output` (what `part` is set to), `edge` (of the bands of `part`, a reading), `near` (the
    middle of a tolerance round it), `time` (how long the line
    lasts), `way` (what its move measures), `held` or `patience`; `line` is that of the step. `factor` is how many of
    the text's numbers one base unit is, where that does not follow from the unit: a wheel that turns the other way.
    """

    what: str
    part: str
    line: int
    value: float
    span: Span
    unit: str
    factor: float = 0.0


@node
class Bound:
    """A plan that fits its rig, or the hints that say why it does not.

    `thresholds` and `settings` are the numbers that can be moved on lanes. `unused` names the lets, values and
    routines that nothing uses, with their places.
    """

    steps: tuple[Step, ...]
    variables: tuple[str, ...]
    hints: tuple[Hint, ...]
    thresholds: tuple[Threshold, ...] = ()
    settings: tuple[Setting, ...] = ()
    unused: tuple[tuple[str, Span], ...] = ()

    @property
    def good(self) -> bool:
        """Whether it can be run."""
        return not any(hint.level == "error" for hint in self.hints)
