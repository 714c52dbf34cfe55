"""The plan: what a text says, before anyone asks whether a rig can do it.

Nodes are immutable. Two plans are equal when they say the same with the same comments; where they
stand in the text (`span`) does not count.
"""

from __future__ import annotations

from dataclasses import field

from geduld.language.messages import Span
from geduld.language.nodes import node

NOWHERE = Span(0, 0, 0, 0)


@node
class Node:
    """Anything with a place in the text."""

    span: Span = field(default=NOWHERE, compare=False, kw_only=True)


# Expressions


@node
class Expression(Node):
    """Something with a value."""


@node
class Number(Expression):
    """A number as written, with its unit: `0.50 s` keeps its zero."""

    text: str
    unit: str = ""


@node
class Text(Expression):
    """A text in quotation marks, without them."""

    text: str


@node
class Name(Expression):
    """A name, or a part's property: `range`, `near`, `wheel.diameter`, `clock`."""

    name: str


@node
class Call(Expression):
    """A function with its values: `clamp(a, b, c)`."""

    function: str
    values: tuple[Expression, ...]


@node
class Minus(Expression):
    """A value with its sign turned."""

    value: Expression


@node
class Binary(Expression):
    """Arithmetic (`+ - * /`), a comparison (`< <= > >= = !=`), or `and`, `or`."""

    sign: str
    left: Expression
    right: Expression


@node
class Not(Expression):
    """The opposite of a condition."""

    value: Expression


@node
class Between(Expression):
    """`value between low and high`, both ends included."""

    value: Expression
    low: Expression
    high: Expression


@node
class Near(Expression):
    """`value = wanted +- tolerance`, both ends included."""

    value: Expression
    wanted: Expression
    tolerance: Expression


@node
class Follows(Expression):
    """`value follows wanted within tolerance`. Only in checks."""

    value: Expression
    wanted: Expression
    tolerance: Expression


@node
class Within(Expression):
    """`cart is within distance of mark "name"`. Only in checks."""

    value: Expression
    distance: Expression
    mark: str


@node
class Inside(Expression):
    """`cart is inside "corridor"`. Only in checks."""

    value: Expression
    corridor: str


@node
class Towards(Expression):
    """`heading is wanted +- tolerance`, round the full turn. Only in checks."""

    value: Expression
    wanted: Expression
    tolerance: Expression


@node
class Keeps(Expression):
    """`motor keeps wanted +- tolerance`: how fast it really turns. Only in checks."""

    value: Expression
    wanted: Expression
    tolerance: Expression


@node
class Told(Expression):
    """`sent "text"`, `noted "text"`, `finished "why"`, `line 12 is waiting`: what a record tells. Only in checks.

    `word` is `sent`, `noted`, `finished` or `line`; `of_partner` when the other device's record is meant.
    """

    word: str
    text: str
    of_partner: bool = False


@node
class Is(Expression):
    """`part is` and one of `words.STATES`, `absent`, or one of `words.JUST`; in checks one of `words.CONTROLS` too."""

    value: Expression
    state: str


@node
class Says(Expression):
    """`message is "text"`."""

    value: Expression
    text: str


# Steps


@node
class Until(Node):
    """`until C [, held T] [, patience T [otherwise: block]]`."""

    condition: Expression
    held: Expression | None = None
    patience: Expression | None = None
    otherwise: Block | None = None
    otherwise_comments: tuple[tuple[str, ...], str] = ((), "")


@node
class For(Node):
    """`for QUANTITY [by time | by encoder]`; `by` is empty, `time` or `encoder`."""

    quantity: Expression
    by: str = ""


@node
class Step(Node):
    """One step. `before` holds the comment lines above it, `comment` the one behind it."""

    before: tuple[str, ...] = field(default=(), kw_only=True)
    comment: str = field(default="", kw_only=True)


@node
class Block(Node):
    """Steps one after another, and the comments behind the last."""

    steps: tuple[Step, ...] = ()
    trailing: tuple[str, ...] = ()


@node
class Action(Step):
    """`TARGET at VALUE [ENDING]`, or `TARGET follows VALUE ENDING` where `follows` is true.

    `turn` is `left` or `right` when the target is `turn`; `about` is then empty, `centre`, `left wheel` or
    `right wheel`.

    `drive` has one value for both sides or two; `lamp on` and `lamp off` have none and say `state`.
    """

    target: str
    values: tuple[Expression, ...]
    ending: For | Until | None = None
    keep_going: bool = False
    turn: str = ""
    state: str = ""
    follows: bool = False
    about: str = ""


@node
class Ramp(Step):
    """`TARGET from A to B over TIME [, keep going]`."""

    target: str
    start: Expression
    stop: Expression
    over: Expression
    keep_going: bool = False


@node
class Perform(Step):
    """A routine by its name: `dock`, `dock with 45 %, 30 cm`."""

    name: str
    values: tuple[Expression, ...] = ()


@node
class Band(Node):
    """One band of a `by`: `form` is `over` (low), `under` (high), `between` (low, high) or `absent`.

    `ends` is `both ends` or `upper end` where it says that the edge above it is its own.
    """

    form: str
    low: Expression | None
    high: Expression | None
    body: Block
    before: tuple[str, ...] = ()
    comment: str = ""
    ends: str = ""


@node
class By(Step):
    """`by VALUE [, slack S]:` and its bands, each owning its lower edge, where none says otherwise."""

    value: Expression
    slack: Expression | None
    bands: tuple[Band, ...]
    trailing: tuple[str, ...] = ()


@node
class Stop(Step):
    """`stop TARGET` or `stop all`, `by braking` or `by coasting` where `by` says so."""

    target: str
    by: str = ""


@node
class Wait(Step):
    """`wait TIME` or `wait until C …`."""

    ending: For | Until


@node
class Repeat(Step):
    """`repeat`, `repeat N times`, `repeat while C`, `repeat until C`: `form` is `""`, `times`, `while`, `until`."""

    form: str
    value: Expression | None
    body: Block


@node
class Do(Step):
    """`do:` and its body, then `unless C [, held T]:` and its handler with that line's comments."""

    body: Block
    condition: Expression
    handler: Block
    unless_before: tuple[str, ...] = ()
    unless_comment: str = ""
    held: Expression | None = None


@node
class Lane(Node):
    """One lane of a `side by side`: its name, its body, and its line's comments."""

    name: str
    body: Block
    before: tuple[str, ...] = ()
    comment: str = ""


@node
class Side(Step):
    """`side by side:` and its lanes, which run at the same time."""

    lanes: tuple[Lane, ...]
    trailing: tuple[str, ...] = ()


@node
class Leave(Step):
    """Goes on behind the innermost `repeat`."""


@node
class Branch(Node):
    """One arm of an `if`: its condition (none for `else`), its body, and its line's comments."""

    condition: Expression | None
    body: Block
    before: tuple[str, ...] = ()
    comment: str = ""


@node
class If(Step):
    """`if C:`, `else if C:`, `else:`."""

    branches: tuple[Branch, ...]


@node
class Set(Step):
    """`set name to VALUE`."""

    name: str
    value: Expression
    name_span: Span = field(default=NOWHERE, compare=False)


@node
class StartTimer(Step):
    """`start timer t`: from here on `t` is the time since."""

    name: str
    name_span: Span = field(default=NOWHERE, compare=False)


@node
class Reset(Step):
    """`reset left.angle`: a counter, a timer or a value counts from nothing again."""

    name: str
    name_span: Span = field(default=NOWHERE, compare=False)


@node
class Send(Step):
    """`send "text"`: a message to whoever listens."""

    text: str


@node
class Note(Step):
    """`note "text"`: an event in the record."""

    text: str


@node
class Finish(Step):
    """`finish ["why"]`: the program ends here."""

    why: str | None


def blocks_in(step: Step) -> tuple[Block, ...]:
    """The blocks that stand under a step."""
    match step:
        case Wait() | Action():
            ending = step.ending
            return (ending.otherwise,) if isinstance(ending, Until) and ending.otherwise else ()
        case Repeat():
            return (step.body,)
        case Do():
            return (step.body, step.handler)
        case Side():
            return tuple(lane.body for lane in step.lanes)
        case If():
            return tuple(branch.body for branch in step.branches)
        case By():
            return tuple(band.body for band in step.bands)
    return ()


@node
class Let(Step):
    """`let name = VALUE`, or a formula: `let name(a, b) = VALUE`."""

    name: str
    value: Expression
    name_span: Span = field(default=NOWHERE, compare=False)
    parameters: tuple[str, ...] = ()


@node
class Routine(Step):
    """`to name [with a, b]:` and its body."""

    name: str
    parameters: tuple[str, ...]
    body: Block
    name_span: Span = field(default=NOWHERE, compare=False)


@node
class Include(Step):
    """`include "name"`: the routines and names of a library."""

    name: str


@node
class Plan(Node):
    """A whole behaviour: its header, its lets, its routines and its steps; a library has no steps."""

    title: str
    rig: str | None
    lets: tuple[Let, ...]
    begin: Block
    routines: tuple[Routine, ...] = ()
    header_comments: tuple[tuple[tuple[str, ...], str], ...] = ()
    trailing: tuple[str, ...] = ()
    includes: tuple[Include, ...] = ()
    is_library: bool = False


def without_gap(before: tuple[str, ...]) -> tuple[str, ...]:
    """Comment lines without a blank line in front, where the standard form has one anyway."""
    return before[1:] if before and not before[0] else before
