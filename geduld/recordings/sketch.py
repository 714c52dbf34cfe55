"""A recording that nobody recorded: channels drawn by points, with noise, bounce and missed echoes as sensors have."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from geduld.errors import TraceError
from geduld.language.messages import listed, nearest
from geduld.language.quantities import FREQUENCY, RATIO, TEXT, TIME, TRUTH
from geduld.rig.model import Part, Rig
from geduld.rig.values import Values
from geduld.worlds.doubts import possible
from geduld.worlds.signal import instants
from geduld.worlds.trace import Floats, Trace
from geduld.worlds.trace_csv import COUNTS

MARK = "sketch/1"
LINE, STEP, SMOOTH = "line", "step", "smooth"
SHAPES = (LINE, STEP, SMOOTH)
MOST_POINTS, MOST_SAMPLES = 500, 1_000_000
_READ = Values(TraceError, "sketch")
_EXAMPLE = '{"range": {"points": [["0 s", "180 cm"], ["4 s", "5 cm"]], "noise": "0.3 cm"}}'


@dataclass(frozen=True)
class Drawn:
    """One channel: `points` are pairs of an instant in s and a value in base units, `shape` how they are joined.

    `noise` is a standard deviation in base units; `missed` the share of readings that are absent, 0 to 1; `bounce` how
    long a contact is unsteady after it is pressed or let go, in s.
    """

    part: Part
    points: tuple[tuple[float, float], ...]
    shape: str = LINE
    noise: float = 0.0
    missed: float = 0.0
    bounce: float = 0.0


@dataclass(frozen=True)
class Sketch:
    """A made-up recording of a rig: how long it lasts in s, its samples a second, its seed, its channels."""

    rig: Rig
    lasts: float
    rate: float
    seed: int
    channels: tuple[Drawn, ...]


def sketch_from_json(source: Any, rig: Rig) -> Sketch:
    """The sketch in a JSON value. Raises TraceError with the path to what is wrong."""
    if not isinstance(source, dict) or source.get("geduld") != MARK:
        remedy = f'Start it with {{"geduld": "{MARK}", "lasts": "20 s", "rate": "50 Hz", "channels": {_EXAMPLE}}}.'
        raise _READ.wrong("geduld", "This JSON does not say that it is a sketch.", remedy)
    _READ.known_keys(source, ("geduld", "lasts", "rate", "seed", "channels"), "")
    lasts = _READ.within(source.get("lasts"), TIME, "lasts", "20 s", 0.01, 100_000.0)
    rate = _READ.within(source.get("rate", "50 Hz"), FREQUENCY, "rate", "50 Hz", 0.01, 10_000.0)
    if lasts * rate > MOST_SAMPLES:
        raise _READ.wrong("rate", f"This would be more than {MOST_SAMPLES:,} samples.", "Write a lower rate.")
    seed = source.get("seed", 1)
    if not isinstance(seed, int) or isinstance(seed, bool) or not 0 <= seed < 2**32:
        raise _READ.wrong("seed", "A whole number from 0 to 4,294,967,295 belongs here.", 'For example: "seed": 1')
    channels = source.get("channels")
    if not isinstance(channels, dict) or not channels:
        raise _READ.wrong("channels", "A table of channels belongs here.", f"For example: {_EXAMPLE}")
    drawn = tuple(_drawn(name, table, rig, lasts) for name, table in channels.items())
    return Sketch(rig, lasts, rate, seed, drawn)


def _drawn(name: str, table: Any, rig: Rig, lasts: float) -> Drawn:
    path = f"channels.{name}"
    part = rig.channels.get(name)
    if part is None or name.endswith(COUNTS) or part.dimension == TEXT:
        known = [other for other, part in rig.channels.items() if not other.endswith(COUNTS) and part.dimension != TEXT]
        like = nearest(name, known)
        remedy = f'Did you mean "{like}"?' if like else f"It has {listed(known)}."
        raise _READ.wrong(path, f'The rig "{rig.name}" has no "{name}" that can be drawn.', remedy)
    keys = ("points", "shape", "noise", "missed", "bounce")
    table = _READ.table(table, path, keys, '{"points": [["0 s", "180 cm"]]}')
    contact = part.dimension == TRUTH
    shape = table.get("shape", STEP if contact else LINE)
    if shape not in SHAPES:
        raise _READ.wrong(f"{path}.shape", "This is no shape.", f"Write {listed(SHAPES)}.")
    unit = part.unit_word
    noise = 0.0
    if "noise" in table and not contact:
        noise = _READ.within(table["noise"], part.dimension, f"{path}.noise", f"1 {unit}", 0.0, 1e9)
    missed = _READ.within(table.get("missed", "0 %"), RATIO, f"{path}.missed", "5 %", 0.0, 100.0) / 100
    bounce = _READ.within(table.get("bounce", "0 ms"), TIME, f"{path}.bounce", "5 ms", 0.0, 10.0)
    return Drawn(
        part, _points(table.get("points"), part, path, lasts), STEP if contact else shape, noise, missed, bounce
    )


def _points(value: Any, part: Part, path: str, lasts: float) -> tuple[tuple[float, float], ...]:
    one = "0" if part.dimension == TRUTH else f'"10 {part.unit_word}"'
    example = f'[["0 s", {one}]]'
    if not isinstance(value, list) or not 0 < len(value) <= MOST_POINTS:
        raise _READ.wrong(
            f"{path}.points", f"A list of 1 to {MOST_POINTS} points belongs here.", f"For example: {example}"
        )
    points: list[tuple[float, float]] = []
    for place, pair in enumerate(value):
        here = f"{path}.points[{place}]"
        if not isinstance(pair, list) or len(pair) != 2:
            raise _READ.wrong(here, "A time and a value belong here.", f"For example: {example}")
        at = _READ.within(pair[0], TIME, here, "1.5 s", 0.0, lasts)
        if points and at <= points[-1][0]:
            raise _READ.wrong(here, "Each point must come later than the one before.", "Sort them by time.")
        points.append((at, _value(pair[1], part, here)))
    return tuple(points)


def _value(value: Any, part: Part, path: str) -> float:
    if part.dimension == TRUTH or not part.unit_word:
        if not isinstance(value, int | float) or isinstance(value, bool) or not -1e9 < value < 1e9:
            raise _READ.wrong(path, "A plain number belongs here.", "For a contact 1 is pressed and 0 released.")
        if part.dimension == TRUTH and value not in (0, 1):
            raise _READ.wrong(path, "A contact is 0 or 1.", "Write 1 for pressed and 0 for released.")
        return float(value)
    return _READ.quantity(value, part.dimension, path, f"10 {part.unit_word}")


def drawn_trace(sketch: Sketch) -> Trace:
    """The recording that a sketch is: the same for the same sketch and seed."""
    count = round(sketch.lasts * sketch.rate) + 1
    times = instants(np.rint(np.arange(count) * (1e6 / sketch.rate)))
    seconds = times / 1e6
    channels: dict[str, Floats] = {}
    for drawn in sketch.channels:
        # each channel has its own chance: one more channel does not change the others
        seed = np.random.SeedSequence([sketch.seed, *drawn.part.name.encode()])
        channels[drawn.part.name] = _channel(drawn, seconds, np.random.default_rng(seed))
    return Trace(times, _in_order(channels, sketch.rig))


def _in_order(channels: Mapping[str, Floats], rig: Rig) -> dict[str, Floats]:
    return {name: channels[name] for name in rig.channels if name in channels}


def _channel(drawn: Drawn, seconds: Floats, chance: np.random.Generator) -> Floats:
    at = np.array([point[0] for point in drawn.points])
    levels = np.array([point[1] for point in drawn.points])
    if drawn.shape == STEP or len(at) == 1:
        values = levels[np.maximum(np.searchsorted(at, seconds, "right") - 1, 0)]
    else:
        place = np.clip(np.searchsorted(at, seconds, "right") - 1, 0, len(at) - 2)
        share = np.clip((seconds - at[place]) / (at[place + 1] - at[place]), 0, 1)
        if drawn.shape == SMOOTH:
            share = share * share * (3 - 2 * share)
        values = levels[place] + share * (levels[place + 1] - levels[place])
    values = values.astype(np.float64)
    if drawn.part.dimension == TRUTH:
        values = _bounced(values, seconds, drawn.bounce, chance)
    elif drawn.noise:
        low, high = possible(drawn.part)
        values = np.clip(values + chance.normal(0, drawn.noise, len(values)), low, high)
    if drawn.missed:
        values = np.where(chance.random(len(values)) < drawn.missed, np.nan, values)
    found: Floats = values
    return found


def _bounced(values: Floats, seconds: Floats, bounce: float, chance: np.random.Generator) -> Floats:
    """A contact that is unsteady for a while after each change, and then rests."""
    changes = np.flatnonzero(values[1:] != values[:-1]) + 1
    loose = values.copy()
    for change in changes.tolist():
        unsteady = np.flatnonzero((seconds > seconds[change]) & (seconds <= seconds[change] + bounce))
        loose[unsteady] = chance.integers(0, 2, len(unsteady))
    return loose
