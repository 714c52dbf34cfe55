"""The tree of a check text."""

from __future__ import annotations

from geduld.language.nodes import node
from geduld.language.tree import Expression, Let, Node, Step


@node
class Sentence(Node):
    """The sentence of a check, by its kind: the file of that pattern says what it uses of the rest, and for what.

    Expressions and counts are as written; `bound` is `at least`, `at most`, or empty for exactly.
    """

    kind: str
    conditions: tuple[Expression, ...] = ()
    times: tuple[Expression, ...] = ()
    tolerance: Expression | None = None
    bound: str = ""
    count: str = ""
    name: str = ""


@node
class Check(Step):
    """`check "Title", 3 points [, least over cases] [, fading over 10 cm] [, private]:` and its sentence.

    `over` is how its points come from several cases: `mean`, `least`, `each`, or empty for what the exercise says.
    `fading` is the miss at which nothing is left of the points; without it a miss leaves none.
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


@node
class CheckSheet(Node):
    """A whole check text: its lets and its checks."""

    lets: tuple[Let, ...]
    checks: tuple[Check, ...]
    trailing: tuple[str, ...] = ()
