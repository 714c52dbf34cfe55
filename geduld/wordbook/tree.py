"""The tree of a wordbook."""

from __future__ import annotations

from dataclasses import field

from geduld.language.messages import Span
from geduld.language.nodes import node
from geduld.language.tree import NOWHERE, Block, Expression, Node, Number, Step

PYTHON, C = "python", "c"
LANGUAGES = (PYTHON, C)
# Stands behind the names of parameters in the tree, so that they may be called anything, also like a part of the rig
# or a word of the notation. No text can spell it: the lexer takes such letters, but the reader refuses them.
PARAMETER = "\u02d1"
PART = "part"


@node
class Line(Expression):
    """`line pin`: the level, or the reading, of what hangs on a line of the controller."""

    pin: Expression


@node
class SetLine(Step):
    """`line pin at level`."""

    pin: Expression
    level: Expression


@node
class SendGiven(Step):
    """`send text`, `note text`: sends or notes what the parameter `name` says; `what` is `send` or `note`."""

    what: str
    name: str


@node
class EachTime(Step):
    """`each time CONDITION, handler`: performs the parameter `name` each time the condition comes true."""

    condition: Expression
    name: str


@node
class Parameter(Node):
    """A parameter of a word.

    Its plain number is in `unit`, or on the `scale` from one number to another; with neither it is a name, a text or
    a count. `default` is a number or a text as written.
    """

    name: str
    unit: str = ""
    scale: tuple[str, str] | None = None
    default: str | None = None


@node
class Answer(Node):
    """How a word's value comes back: in `unit` or on the `scale`, `whole`, with `absent` where there is no reading.

    `absent` is a number, or a text in quotation marks, as written; `takes` is how long the call itself lasts; `kind` is
    the type in C, where it is not the usual one.
    """

    unit: str = ""
    scale: tuple[str, str] | None = None
    whole: bool = False
    absent: str | None = None
    takes: Number | None = None
    kind: str = ""


@node
class Word(Step):
    """A word: steps, or a value. Without `parameters` (None) it is no function but a name with a value."""

    name: str
    parameters: tuple[Parameter, ...] | None
    answer: Answer
    body: Block | None
    value: Expression | None
    name_span: Span = field(default=NOWHERE, compare=False)


@node
class Thing(Step):
    """An `object`: a class that students make things from. Its first parameter names a part, or its port."""

    name: str
    parameters: tuple[Parameter, ...]
    words: tuple[Word, ...]
    trailing: tuple[str, ...] = ()
    name_span: Span = field(default=NOWHERE, compare=False)


def stands_alone(word: Word | Thing) -> bool:
    """Whether a blank line stands before and behind it in the standard form: it has lines under it."""
    return isinstance(word, Thing) or word.body is not None


@node
class Head(Node):
    """A line above the words: `what` is its first word, `values` what it says behind it."""

    what: str
    values: tuple[str, ...]
    before: tuple[str, ...] = ()
    comment: str = ""


@node
class Wordbook(Node):
    """A whole wordbook: its title, its head, its words and objects in the order of the text."""

    title: str
    heads: tuple[Head, ...]
    words: tuple[Word | Thing, ...]
    before: tuple[str, ...] = ()
    comment: str = ""
    trailing: tuple[str, ...] = ()

    def said(self, what: str) -> tuple[str, ...]:
        """What the head says under a word, over all its lines."""
        return tuple(value for head in self.heads if head.what == what for value in head.values)

    @property
    def rig(self) -> str | None:
        """The rig it is for, where it says one."""
        return next(iter(self.said("for")), None)

    @property
    def language(self) -> str:
        """`python` or `c`."""
        return next(iter(self.said("reads")), PYTHON)

    @property
    def modules(self) -> tuple[str, ...]:
        """What Python programs may import to have its words."""
        return self.said("module")

    @property
    def headers(self) -> tuple[str, ...]:
        """What C programs may include to have its words."""
        return self.said("header")

    @property
    def bits(self) -> int:
        """How wide an `int` is in C."""
        return int(next(iter(self.said("whole")), "32"))

    @property
    def entry(self) -> tuple[str, str] | None:
        """The functions that are run once and for ever, where C programs do not start with `main`."""
        said = self.said("starts")
        return (said[0], said[1]) if len(said) == 2 else None
