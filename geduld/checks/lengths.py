"""How long a stretch is to be: in time, in the robot's way or turn, or in a motor's own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.evidence import span
from geduld.checks.sheet import Length
from geduld.checks.turning import Turning, made, reached
from geduld.checks.verdicts import FAIL, OPEN, PASS
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.formatter import expression_text
from geduld.language.messages import Problem, error
from geduld.language.quantities import ANGLE, LENGTH, TIME, microseconds, show
from geduld.language.tree import Expression
from geduld.run.record.record import Record
from geduld.worlds.trace import Ticks

ABOUT, LEAST, MOST, TO_THE_END = "about", "at least", "at most", "to the end"
VERDICTS = (FAIL, OPEN, PASS)
_FAIL, _OPEN, _PASS = range(3)
_EXAMPLE = "Write for example: 2 s +- 0.1 s, at least 30 cm, or at most 90 deg"


@dataclass(frozen=True)
class BoundLength:
    """A length that stretches can be held against.

    `what` is `time` (`wanted` and `around` are in ticks), `way` (in cm) or `angle` (in deg); `of` is the motor whose
    it is, empty for the robot. `words` is the length as written.
    """

    form: str
    wanted: float
    around: float
    what: str
    of: str
    words: str

    @property
    def unit(self) -> str:
        """That of its margin."""
        return {"time": "s", "way": "cm", "angle": "deg"}[self.what]

    def unknown(self, record: Record) -> str:
        """Why a run cannot tell how long its stretches are; empty when it can."""
        return "" if self.what == "time" else Turning.of(record).unknown(self.of)

    def of_stretches(self, record: Record, starts: Ticks, stops: Ticks) -> NDArray[Any]:
        """How long stretches are, each up to `stops`, shape (n,): in ticks, cm or deg."""
        if self.what == "time":
            return stops - starts
        course, factor = self._course(record)
        return made(course, starts, stops) * factor

    def _course(self, record: Record) -> tuple[Any, float]:
        turning = Turning.of(record)
        if self.of:
            rolled = record.rig.sizes()["wheel.circumference"] / 360 if self.what == "way" else 1.0
            return turning.motor(self.of), rolled
        return (turning.way if self.what == "way" else turning.turn), 1.0

    def due(self, record: Record, start: int) -> int | None:
        """The tick at which a stretch from `start` on is as long as wanted; None when it never is, or need not be."""
        if self.form == TO_THE_END:
            return None
        if self.what == "time":
            return start + int(self.wanted)
        course, factor = self._course(record)
        return reached(course, start, self.wanted / factor)

    def judged(self, lengths: NDArray[Any], cut: NDArray[np.bool_]) -> NDArray[np.int8]:
        """For each length a place in VERDICTS; `cut` are those that the run's end leaves open."""
        found = np.full(len(lengths), _FAIL, np.int8)
        if self.form == TO_THE_END:
            found[cut] = _PASS
            return found
        margins = self._spare(lengths)
        found[margins >= 0] = _PASS
        if self.form == LEAST:
            found[cut & (margins < 0)] = _OPEN
        elif self.form == MOST:
            found[cut & (margins >= 0)] = _OPEN
        else:
            found[cut & (lengths <= self.wanted + self.around)] = _OPEN
        return found

    def _spare(self, length: Any) -> Any:
        if self.form == LEAST:
            return length - self.wanted
        if self.form == MOST:
            return self.wanted - length
        return self.around - abs(length - self.wanted)

    def margin(self, length: float) -> float:
        """What one length has to spare, in `unit`; negative is missing."""
        spare = float(self._spare(length))
        return spare / 1e6 if self.what == "time" else spare

    def shown(self, length: float) -> str:
        """A length as evidence says it."""
        return span(int(length)) if self.what == "time" else show(length, self.unit, 1)


def read_length(cursor: Cursor) -> Length:
    """`2 s +- 0.1 s`, `at least 30 cm`, `at most 90 deg of left`. Raises Problem."""
    start = cursor.token.span
    form = LEAST if cursor.take("at", "least") else MOST if cursor.take("at", "most") else ABOUT
    amount = arithmetic(cursor)
    tolerance: Expression | None = None
    if form == ABOUT:
        cursor.expect("+-", "and the tolerance", _EXAMPLE)
        tolerance = arithmetic(cursor)
    of = ""
    if cursor.take("of"):
        motor = cursor.take_kind("word")
        if motor is None:
            raise cursor.unexpected("a motor", "Write for example: 360 deg +- 10 deg of left")
        of = motor.text
    return Length(form, amount, tolerance, of, span=cursor.since(start))


def length_text(length: Length) -> str:
    """A length as written."""
    if length.form == TO_THE_END:
        return "to the end of the run"
    of = f" of {length.of}" if length.of else ""
    amount = expression_text(length.amount) if length.amount else ""
    if length.tolerance is not None:
        return f"{amount} +- {expression_text(length.tolerance)}{of}"
    return f"{length.form} {amount}{of}"


def bind_length(length: Length, scope: Scope) -> BoundLength:
    """A length for a rig. Raises Problem."""
    if length.amount is None:
        return BoundLength(TO_THE_END, 0, 0, "time", "", length_text(length))
    amount = _fixed(length.amount, scope)
    around = _fixed(length.tolerance, scope) if length.tolerance else terms.Const(0.0, dimension=amount.dimension)
    what = {TIME: "time", LENGTH: "way", ANGLE: "angle"}.get(amount.dimension)
    if what is None:
        message = f"A stretch is measured in time, way or angle, and this is {amount.dimension}."
        raise Problem(error("check-time", length.amount.span, message, _EXAMPLE))
    if length.tolerance is not None:
        scope.must_be(length.tolerance, around, amount.dimension, "The tolerance")
    _measurable(length, what, scope)
    wanted, spare = amount.value, around.value
    if what == "time":
        wanted, spare = microseconds(wanted), microseconds(spare)
    return BoundLength(length.form, wanted, spare, what, length.of, length_text(length))


def _fixed(expression: Expression, scope: Scope) -> terms.Const:
    term = scope.term(expression)
    if not isinstance(term, terms.Const) or not 0 <= term.value < 1e6:
        message = "A check's length is a fixed value, not less than nothing."
        raise Problem(error("check-time", expression.span, message, _EXAMPLE))
    return term


def _measurable(length: Length, what: str, scope: Scope) -> None:
    """Raises Problem where the rig has nothing that makes such a way."""
    drive, part = scope.rig.drive, scope.rig.parts.get(length.of)
    wheel = drive is not None and length.of in (drive.left, drive.right)
    if what == "time":
        if length.of:
            message = "A time is of no motor."
            raise Problem(error("wrong-dimension", length.span, message, f"Leave out: of {length.of}"))
    elif not length.of and drive is None:
        message = "This rig has no wheels, so the robot makes no way and no turn."
        raise Problem(
            error("no-drive", length.span, message, "Say whose it is, for example: 360 deg +- 10 deg of hoist")
        )
    elif length.of and (part is None or not part.kind.spins or (what == "way" and not wheel)):
        message = f'"{length.of}" is no motor of this rig that makes such a way.'
        raise Problem(error("not-a-motor", length.span, message, "Name a motor; a way in cm is made by a wheel."))
