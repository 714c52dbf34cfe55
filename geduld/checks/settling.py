"""`after the first 0.2 s`: the beginning of a stretch in which nothing is judged."""

from __future__ import annotations

import numpy as np

from geduld.checks.bound import BoundCheck
from geduld.checks.courses import Spans
from geduld.checks.evidence import span
from geduld.checks.pattern import times
from geduld.checks.sheet import Sentence
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.tree import Expression

WORDS = ("after", "the", "first")


def read_settling(cursor: Cursor) -> tuple[Expression, ...]:
    """The time at the end of a sentence, where there is one."""
    return (arithmetic(cursor),) if cursor.take(*WORDS) else ()


def settling_text(sentence: Sentence) -> str:
    """The same as written."""
    return f" after the first {times(sentence)[0]}" if sentence.times else ""


def settled(check: BoundCheck, spans: Spans) -> Spans:
    """Stretches without their beginning; those that are no longer than that are left out."""
    if not check.times:
        return spans
    starts, stops = spans[0] + check.times[0], spans[1]
    long_enough = starts < stops
    return np.asarray(starts[long_enough]), np.asarray(stops[long_enough])


def said(check: BoundCheck) -> str:
    """What evidence adds."""
    return f" after the first {span(check.times[0])}" if check.times else ""
