"""Whether numbers can be values of a part, and in which unit."""

from __future__ import annotations

import numpy as np

from geduld.language.quantities import RATIO, UNITS, Unit
from geduld.recordings.nothing import CODES
from geduld.rig.model import Part
from geduld.worlds.doubts import possible
from geduld.worlds.trace import Floats

RAW_UNIT = "raw"
_FEW = 0.2  # a share of impossible values that may be mistakes of a sensor
_DISTINCT = 3  # so many different ones may be


def by_size(numbers: Floats, part: Part) -> tuple[str, str]:
    """The unit in which a column's numbers can be readings of a part, and why.

    It is its own where they can, else one like it; where they fit none it is its own too, and `fits_none` says so.
    """
    assert part.unit is not None
    known = numbers[np.isfinite(numbers) & ~np.isin(numbers, CODES)]
    if not len(known) or _are_readings(known, part.unit, part):
        return part.unit.word, ""
    others = [
        unit
        for unit in UNITS.values()
        if unit.dimension == part.dimension and unit.word != part.unit.word and _impossible(known, unit, part) < 0.02
    ]
    if others:
        least, high = possible(part)
        middle = float(np.median(known))
        best = min(
            others, key=lambda unit: abs(np.log(max(unit.to_base(middle), 1e-9) / max(1e-9, (least + high) / 4)))
        )
        shown = f"{part.unit.from_base(high):g} {part.unit.word}"
        return best.word, f"in {part.unit.word} it would go past {shown}; in {best.word} it fits"
    if part.raw is not None and part.dimension == RATIO:
        return RAW_UNIT, "its numbers are too large for %, and fit those of the converter"
    return part.unit.word, ""


def fits_none(numbers: Floats, part: Part, said: Unit | None) -> str:
    """Why a column's numbers cannot be values of a part: in the unit that its heading says, or else in any. Empty when
    they can. What a motor was told is exact, so a single value past its end is enough."""
    codes = () if part.is_output else CODES  # a command is never "no reading"
    known = numbers[np.isfinite(numbers) & ~np.isin(numbers, codes)]
    if part.unit is None or part.dimension != RATIO or not len(known):
        return ""
    if part.is_output and part.kind.reversible and said is None and set(known.tolist()) == {0.0, 1.0}:
        return "0 and 1 are no powers of a motor"
    if said is None and part.raw is not None:
        return ""
    unit = said or part.unit
    exact = part.is_output and not part.scaled
    if (exact and _impossible(known, unit, part)) or not _are_readings(known, unit, part):
        low, high = possible(part)
        return f"its values go past {low:g} to {high:g} %"
    return ""


def _are_readings(known: Floats, unit: Unit, part: Part) -> bool:
    """Whether numbers can be values in a unit, but for some mistakes: shares past 100 % are soon a converter's."""
    share = _impossible(known, unit, part)
    if share > _FEW:
        return False
    low, high = possible(part)
    values = unit.to_base(known)
    odd = np.unique(values[(values < low) | (values > high)])
    return part.dimension != RATIO or len(odd) <= _DISTINCT


def _impossible(numbers: Floats, unit: Unit, part: Part) -> float:
    if not len(numbers):
        return 0.0
    low, high = possible(part)
    values = unit.to_base(numbers)
    return float(((values < low) | (values > high)).mean())
