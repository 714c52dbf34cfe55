"""What a sheet of measurements says about the rig, each with its interval and in a sentence."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from geduld.calibration.fitting import Fit, Interval, ratio
from geduld.calibration.measurements import BY_ENCODER, BY_TIME, PIVOT, STRAIGHT, TURN, Measurement, Sheet
from geduld.calibration.models import bend, by_encoder, by_time, has_several, inputs_of, rows_for, usual_power
from geduld.errors import InputError
from geduld.language.quantities import show
from geduld.rig.model import Drive, Rig
from geduld.worlds.trace import Floats

DIAMETER, TRACK, PIVOT_TRACK, SLIP, ON_TOP = (
    "wheel diameter",
    "track width",
    "track width about a wheel",
    "slip",
    "on top",
)
TRAVEL, TURNING, QUARTER, DEAD_ZONE, LAG, TRIM = "travel", "turning", "quarter turn", "dead zone", "lag", "trim"


@dataclass(frozen=True)
class Finding:
    """One thing that was found out: a word for it, its value with the interval, its unit, and a sentence.

    `rig_says` is what the rig says now, None where it says nothing. `kind` and `by` name the moves that it is from.
    """

    word: str
    found: Interval
    unit: str
    rig_says: float | None
    sentence: str
    kind: str
    by: str


@dataclass(frozen=True)
class Residual:
    """A measurement beside what the fit of its kind says; `low` and `high` are where it would lie, by 95 %."""

    row: Measurement
    expected: float
    low: float
    high: float

    @property
    def inside(self) -> bool:
        """Whether it lies where it would."""
        return self.row.measured is not None and self.low <= self.row.measured <= self.high


@dataclass(frozen=True)
class Findings:
    """All that a sheet says: findings, and residuals of every measured move."""

    findings: tuple[Finding, ...]
    residuals: tuple[Residual, ...]

    def get(self, word: str) -> Finding | None:
        """The finding with a word."""
        return next((finding for finding in self.findings if finding.word == word), None)


@dataclass(frozen=True)
class Following:
    """A move to measure next: it would make the interval of `word` this `share` of what it is now."""

    move: str
    by: str
    power: float
    asked: float
    word: str
    share: float


def findings_of(sheet: Sheet, rig: Rig) -> Findings:
    """What a sheet says. Raises InputError for a rig without a drive."""
    if rig.drive is None:
        raise InputError("no-drive", "This rig has no drive to calibrate.", "Describe its wheels first.")
    fits = _fits(sheet)
    found = [*_by_encoder(fits, rig.drive), *_by_time(fits, sheet, rig), *_trim(sheet, rig.drive)]
    return Findings(tuple(found), _residuals(sheet, fits))


Fits = dict[tuple[str, str], Fit]


def _fits(sheet: Sheet) -> Fits:
    return {
        (move, by): fit
        for move in (STRAIGHT, TURN, PIVOT)
        for by, model in ((BY_ENCODER, by_encoder), (BY_TIME, by_time))
        if (fit := model(rows_for(sheet.rows, move, by))) is not None
    }


def _by_encoder(fits: Fits, drive: Drive) -> list[Finding]:
    found: list[Finding] = []
    straight = fits.get((STRAIGHT, BY_ENCODER))
    if straight is not None:
        slope = straight.of(lambda p: float(p[0]))
        diameter = slope.scaled(drive.wheel_diameter)
        went = show(100 * slope.value, "%", 1)
        said = f"It went {went} of what was asked, as if its wheels measured {_cm(diameter)} across."
        found.append(Finding(DIAMETER, diameter, "cm", drive.wheel_diameter, said, STRAIGHT, BY_ENCODER))
        lost = Interval(100 - 100 * slope.value, 100 - 100 * slope.high, 100 - 100 * slope.low)
        said = f"If the wheels really measure {show(drive.wheel_diameter, 'cm')}, they slip by {_near(lost, '%', 1)}."
        found.append(Finding(SLIP, lost, "%", None, said, STRAIGHT, BY_ENCODER))
        if len(straight.params) > 1:
            more = straight.of(lambda p: float(p[1]))
            found.append(Finding(ON_TOP, more, "cm", None, _on_top(more), STRAIGHT, BY_ENCODER))
    for kind, word in ((TURN, TRACK), (PIVOT, PIVOT_TRACK)):
        turn = fits.get((kind, BY_ENCODER))
        if turn is None:
            continue
        slope = turn.of(lambda p: float(p[0]))
        if slope.value <= 0:
            continue
        if straight is not None:
            across = ratio(straight.of(lambda p: float(p[0])), straight.freedom, slope, turn.freedom)
        else:
            across = ratio(Interval(1.0, 1.0, 1.0), 10**9, slope, turn.freedom)
        track = across.scaled(drive.track_width)
        said = (
            f"It turned {show(100 * slope.value, '%', 1)} of what was asked, as if its wheels stood {_cm(track)} apart."
        )
        found.append(Finding(word, track, "cm", drive.track_width, said, kind, BY_ENCODER))
    return found


def _on_top(more: Interval) -> str:
    if more.low <= 0 <= more.high:
        return f"Nothing sure comes on top of a move: {_near(more, 'cm', 2)}."
    what = "rolls on" if more.value > 0 else "stops short"
    return f"Whatever the way, it {what} by {_near(more, 'cm', 2, absolute=True)}: it cannot stop at once."


def _by_time(fits: Fits, sheet: Sheet, rig: Rig) -> list[Finding]:
    found: list[Finding] = []
    for kind, word, unit in ((STRAIGHT, TRAVEL, "cm/s"), (TURN, TURNING, "deg/s")):
        fit = fits.get((kind, BY_TIME))
        if fit is None:
            continue
        rows = rows_for(sheet.rows, kind, BY_TIME)
        power = usual_power(rows)
        zone, lag = has_several(rows)

        def speed(params: Floats, power: float = power, zone: bool = zone) -> float:
            return float(params[0] * (power - (params[1] if zone else 0.0)))

        rate = fit.of(speed)
        says = rig.calibration.travel if kind == STRAIGHT else rig.calibration.turn
        said = f"At {show(power, '%')} it makes {_near(rate, unit, 2)}."
        found.append(Finding(word, rate, unit, None if says is None else says * power, said, kind, BY_TIME))
        if kind == TURN:

            def quarter(params: Floats, speed: Callable[[Floats], float] = speed, lag: bool = lag) -> float:
                return 90 / speed(params) + (float(params[-1]) if lag else 0.0)

            time = fit.of(quarter)
            said = f"A quarter turn at {show(power, '%')} takes {_near(time, 's', 3)}."
            found.append(Finding(QUARTER, time, "s", None, said, kind, BY_TIME))
        if zone:
            dead = fit.of(lambda p: float(p[1]))
            said = f"Below {_near(dead, '%', 1)} it does not move at all."
            found.append(Finding(DEAD_ZONE, dead, "%", None, said, kind, BY_TIME))
        if lag:
            late = fit.of(lambda p: float(p[-1])).scaled(1000)
            said = f"Of each move {_near(late, 'ms', 0)} are lost while it comes up to speed."
            found.append(Finding(LAG, late, "ms", None, said, kind, BY_TIME))
    return found


def _trim(sheet: Sheet, drive: Drive) -> list[Finding]:
    fit = bend(sheet.rows)
    if fit is None:
        return []

    def left_over_right(params: Floats) -> float:
        half = float(params[0]) * drive.track_width / 2
        return 100 * (1 - half) / (1 + half)

    share = fit.of(left_over_right)
    side = "left" if share.value > 100 else "right"
    said = f"It bends to the {'right' if side == 'left' else 'left'}: the {side} wheel makes more of the way. "
    if share.low <= 100 <= share.high:
        said = "It goes straight, as far as these measurements can tell. "
    said += f"The left wheel makes {_near(share, '%', 2)} of what the right one makes."
    return [Finding(TRIM, share, "%", None, said, STRAIGHT, "")]


def _residuals(sheet: Sheet, fits: Fits) -> tuple[Residual, ...]:
    told = []
    for row in sheet.rows:
        fit = fits.get((row.move, row.by))
        if fit is None or row.measured is None:
            continue
        expected = fit.predicted(inputs_of([row])[0])
        told.append(Residual(row, expected.value, expected.low, expected.high))
    return tuple(told)


_AMOUNTS = {
    STRAIGHT: (20.0, 50.0, 100.0, 150.0, 200.0, 300.0),
    TURN: (90.0, 180.0, 360.0, 720.0),
    PIVOT: (90.0, 180.0, 360.0),
}
_TIMES, _POWERS = (0.5, 1.0, 2.0, 3.0, 5.0), (20.0, 30.0, 40.0, 50.0, 60.0, 80.0)


def following_of(sheet: Sheet) -> Following | None:
    """The move to measure next: the one that narrows the widest interval the most, of those that a classroom has room
    for; None where there is too little to tell."""
    fits = _fits(sheet)
    best: Following | None = None
    for (move, by), fit in fits.items():
        if fit.freedom < 1:
            continue
        rows = rows_for(sheet.rows, move, by)
        most = 2 * max(row.asked for row in rows)
        word = (
            {STRAIGHT: DIAMETER, TURN: TRACK, PIVOT: PIVOT_TRACK}[move]
            if by == BY_ENCODER
            else {STRAIGHT: TRAVEL}.get(move, TURNING)
        )
        powers = _POWERS if by == BY_TIME else sorted({row.power for row in rows})
        relative = fit.of(lambda p: float(p[0]))
        width = relative.half / abs(relative.value) if relative.value else math.inf
        for power in powers:
            for asked in _AMOUNTS[move] if by == BY_ENCODER else _TIMES:
                if asked > most:
                    continue
                share = fit.narrowed(lambda p: float(p[0]), np.array([power, asked]))
                gain = width * (1 - share)
                if best is None or gain > _gain(best, fits):
                    best = Following(move, by, power, asked, word, share)
    return best


def _gain(following: Following, fits: Fits) -> float:
    fit = fits[(following.move, following.by)]
    relative = fit.of(lambda p: float(p[0]))
    return relative.half / abs(relative.value) * (1 - following.share) if relative.value else 0.0


def _cm(found: Interval) -> str:
    return _near(found, "cm", 2)


def _near(found: Interval, unit: str, places: int, absolute: bool = False) -> str:
    """A value with its interval, as people say it."""
    value = abs(found.value) if absolute else found.value
    if not math.isfinite(found.half):
        return f"{show(value, unit, places)} (one more measurement tells how sure that is)"
    low, high = (sorted((abs(found.low), abs(found.high)))) if absolute else (found.low, found.high)
    return f"{show(value, unit, places)} ({show(low, '', places)} to {show(high, unit, places)})"
