"""How a script ends before its last line, and what its own handlers may catch."""

from __future__ import annotations

MOST_DEPTH = 200


class Idle(BaseException):
    """The script goes round for ever and touches nothing any more: it stays where it is."""


class Left(BaseException):
    """The script ends itself: what Python calls SystemExit."""


class Interrupted(BaseException):
    """The script stops itself as a hand on the keyboard would: what Python calls KeyboardInterrupt."""


Left.__name__, Interrupted.__name__ = "SystemExit", "KeyboardInterrupt"


class TooMuch(BaseException):
    """The script needs more than a run may have. Carries the sentence that says what."""


# What the student's own `except` may catch: nothing of ours is among these.
ERRORS = (
    ArithmeticError,
    AssertionError,
    AttributeError,
    LookupError,
    NameError,
    OSError,
    RuntimeError,
    TypeError,
    ValueError,
    StopIteration,
)
BROKEN_OFF = (*ERRORS, Interrupted)
EVERYTHING = (*BROKEN_OFF, Left)
CAUGHT: dict[str, tuple[type[BaseException], ...]] = {
    "Exception": ERRORS,
    "BaseException": EVERYTHING,
    "ArithmeticError": (ArithmeticError,),
    "AssertionError": (AssertionError,),
    "AttributeError": (AttributeError,),
    "IndexError": (IndexError,),
    "KeyError": (KeyError,),
    "LookupError": (LookupError,),
    "NameError": (NameError,),
    "UnboundLocalError": (UnboundLocalError,),
    "OverflowError": (OverflowError,),
    "RuntimeError": (RuntimeError,),
    "NotImplementedError": (NotImplementedError,),
    "TimeoutError": (TimeoutError,),
    "RecursionError": (RecursionError,),
    "StopIteration": (StopIteration,),
    "TypeError": (TypeError,),
    "ValueError": (ValueError,),
    "ZeroDivisionError": (ZeroDivisionError,),
    "OSError": (OSError,),
    "IOError": (OSError,),
    "KeyboardInterrupt": (Interrupted,),
    "SystemExit": (Left,),
    # these never come: no file is opened
    "EOFError": (),
    "ImportError": (),
    "ModuleNotFoundError": (),
}
RAISED: dict[str, type[BaseException]] = {name: kinds[0] for name, kinds in CAUGHT.items() if len(kinds) == 1} | {
    "Exception": RuntimeError
}
