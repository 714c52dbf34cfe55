"""The arithmetic of a move as it is written on the board, with this rig's numbers in it."""

from __future__ import annotations

import math

from geduld.calibration.measurements import BY_ENCODER, PIVOT, STRAIGHT, TURN, Measurement
from geduld.errors import InputError
from geduld.language.quantities import show
from geduld.rig.model import Rig


def on_the_board(row: Measurement, rig: Rig) -> list[str]:
    """The lines of the arithmetic, one step each. Raises InputError for a rig without a drive."""
    if rig.drive is None:
        raise InputError("no-drive", "This rig has no drive: there is nothing to work out.", "Describe its wheels.")
    diameter, track = rig.drive.wheel_diameter, rig.drive.track_width
    around = math.pi * diameter
    if row.by != BY_ENCODER:
        return _by_time(row, rig)
    lines = [f"once round the wheel = pi × {show(diameter, 'cm')} = {show(around, 'cm', 2)}"]
    if row.move == STRAIGHT:
        turns = row.asked / around
        lines.append(f"{show(row.asked, 'cm')} ÷ {show(around, 'cm', 2)} = {show(turns, '', 3)} turns of each wheel")
        lines.append(f"{show(turns, '', 3)} × 360° = {show(turns * 360, '', 0)}°")
        return [*lines, *_counts(turns, rig, rig.drive.left)]
    share = row.asked / 360
    radius = track / 2 if row.move == TURN else track
    what = "half the track width" if row.move == TURN else "the track width, from wheel to wheel"
    circle = 2 * math.pi * radius
    way = share * circle
    lines.append(f"each wheel goes round a circle with {what}: 2 × pi × {show(radius, 'cm')} = {show(circle, 'cm', 2)}")
    lines.append(f"{show(row.asked, '', 0)}° ÷ 360° × {show(circle, 'cm', 2)} = {show(way, 'cm', 2)}")
    turns = way / around
    lines.append(f"{show(way, 'cm', 2)} ÷ {show(around, 'cm', 2)} × 360° = {show(turns * 360, '', 0)}°")
    if row.move == PIVOT:
        lines.append("the other wheel stands still")
    return [*lines, *_counts(turns, rig, rig.drive.left)]


def _by_time(row: Measurement, rig: Rig) -> list[str]:
    rate = rig.calibration.travel if row.move == STRAIGHT else rig.calibration.turn
    unit = "cm" if row.move == STRAIGHT else "°"
    if rate is None:
        return ["nothing is measured yet: let it go for this time, and measure how far it comes"]
    speed = rate * row.power
    return [
        f"measured: {show(rate, unit)} a second for each % of power",
        f"{show(rate, unit)} × {show(row.power)} = {show(speed, unit, 2)} a second at {show(row.power, '%')}",
        f"{show(speed, unit, 2)} × {show(row.asked, 's')} = {show(speed * row.asked, unit, 1)}",
    ]


def _counts(turns: float, rig: Rig, motor: str) -> list[str]:
    per_turn = rig.parts[motor].counts_per_turn
    if not per_turn:
        return []
    counts = show(turns * per_turn, "", 0)
    return [f"the encoder counts {per_turn} a turn: {show(turns, '', 3)} × {per_turn} = {counts} counts"]
