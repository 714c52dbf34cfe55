"""Numbers of a column that probably mean "no reading"."""

from __future__ import annotations

import numpy as np

from geduld.language.quantities import TEXT, TRUTH, Unit, show
from geduld.recordings.nothing import CODES
from geduld.rig.model import Part
from geduld.worlds.doubts import possible
from geduld.worlds.trace import Floats


def codes_of(numbers: Floats, part: Part | None, unit: Unit | None, own: bool) -> tuple[tuple[float, ...], str]:
    """The numbers of a column that probably mean "no reading", and why.

    A number is one when the part could not read it and it is one that boards print, or comes again and again; nothing,
    for a sensor that misses readings, when all its other readings are far from it, unless Geduld wrote the file itself
    (`own`): there it would be an empty cell.
    """
    if part is None or part.dimension == TEXT or part.is_output:
        return (), ""
    known = numbers[np.isfinite(numbers)]
    distinct, counts = np.unique(known, return_counts=True)
    if part.dimension == TRUTH:
        odd = [code for code in distinct.tolist() if code not in (0.0, 1.0) and code in CODES]
        return tuple(odd), f"a contact is 0 or 1; {_listed(odd)} is neither" if odd else ""
    values = unit.to_base(distinct) if unit is not None else distinct
    low, high = possible(part)
    outside = (values < low - 1e-9) | (values > high + 1e-9)
    found = [
        code
        for code, count, out in zip(distinct.tolist(), counts.tolist(), outside.tolist(), strict=True)
        if out and (code in CODES or count >= max(3, 0.5 * counts[outside].sum()))
    ]
    ends = f"{_shown(part, low)} to {_shown(part, high)}" if np.isfinite(high) else f"{_shown(part, low)} or more"
    why = f'"{part.name}" reads {ends}; {_listed(found)} cannot be' if found else ""
    far = [code for code in CODES if not own and part.kind.misses and code not in found and _far(known, code)]
    if far:
        because = f"{_listed(far)} comes and goes with nothing on the way to the readings before and after"
        found, why = [*found, *far], "; ".join(filter(None, (why, because)))
    return tuple(sorted(found)), why


def _far(known: Floats, code: float) -> bool:
    """Whether a number comes and goes at once, from and to readings that are far from it and near each other."""
    at = known == code
    if not at.any() or at.mean() > 0.5:
        return False
    others = known[~at]
    steps = np.abs(np.diff(others))
    usual = float(np.quantile(steps, 0.9)) if len(steps) else 0.0
    away = float(np.abs(others - code).min())
    return away > 5 * usual and away > 0.1 * float(np.abs(others).max())


def _listed(codes: list[float]) -> str:
    return ", ".join(f"{code:g}" for code in codes[:4])


def _shown(part: Part, value: float) -> str:
    return show(part.unit.from_base(value), part.unit.word, 1) if part.unit else show(value)
