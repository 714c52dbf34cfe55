"""The tree of a check text."""

from __future__ import annotations

from geduld.language.nodes import node
from geduld.language.tree import Expression, Let, Node, Step


@node
class Length(Node):
    """How long a stretch is: `2 s +- 0.1 s`, `at least 30 cm`, `at most 90 deg of left`, `to the end of the run`.

    `form` is `about`, `at least`, `at most` or `to the end`; without `of` a way or an angle is the robot's own.
    """

    form: str
    amount: Expression | None = None
    tolerance: Expression | None = None
    of: str = ""


@node
class Phase(Node):
    """One phase of a figure: a condition, and how long it holds where that is said."""

    condition: Expression
    length: Length | None
    before: tuple[str, ...] = ()
    comment: str = ""


@node
class Turns(Node):
    """`in turn [, N times] [, gaps up to T] [, anything between]:` and its phases, each behind the one before."""

    times: str
    gap: Expression | None
    anything: bool
    phases: tuple[Phase | Turns, ...]
    before: tuple[str, ...] = ()
    comment: str = ""
    trailing: tuple[str, ...] = ()


@node
class Sentence(Node):
    """The sentence of a check, by its kind: the file of that pattern says what it uses of the rest, and for what.

    Expressions and counts are as written; `bound` is `at least`, `at most`, or empty for exactly; `options` are words
    of the pattern that may stand or not, those with a time in the order of `times`.
    """

    kind: str
    conditions: tuple[Expression, ...] = ()
    times: tuple[Expression, ...] = ()
    tolerance: Expression | None = None
    bound: str = ""
    count: str = ""
    name: str = ""
    options: tuple[str, ...] = ()
    length: Length | None = None
    phases: tuple[Phase | Turns, ...] = ()


@node
class Check(Step):
    """`check "Title", 3 points [, least over cases] [, fading over 10 cm] [, all or nothing] [, private]:`.

    Its sentence stands under it.

    `over` is how its points come from several cases: `mean`, `least`, `each`, or empty for what the exercise says.
    `fading` is the miss at which nothing is left of the points; without it a miss leaves none. `whole` is `all or
    nothing`: what passed some of the times is worth no points.
    """

    title: str
    points: str
    sentence: Sentence
    sentence_before: tuple[str, ...] = ()
    sentence_comment: str = ""
    sentence_trailing: tuple[str, ...] = ()
    over: str = ""
    private: bool = False
    fading: Expression | None = None
    whole: bool = False


@node
class CheckSheet(Node):
    """A whole check text: its lets and its checks."""

    lets: tuple[Let, ...]
    checks: tuple[Check, ...]
    trailing: tuple[str, ...] = ()
