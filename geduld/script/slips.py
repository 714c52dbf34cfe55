"""Values that are probably in another unit than a word wants."""

from __future__ import annotations

from geduld.language.quantities import show
from geduld.wordbook.bound import Given

SHORT_MS, LONG_S = 5, 100


def slipped_unit(given: Given, number: object) -> tuple[str, str] | None:
    """The message and the remedy for a number whose size suggests seconds for milliseconds, or the other way round."""
    if given.unit is None or isinstance(number, bool) or not isinstance(number, int | float):
        return None
    if given.unit.word == "ms" and 0 < number < SHORT_MS:
        message = f'"{given.name}" is in milliseconds: {show(float(number), "ms")} is hardly any time.'
        return message, f"Where seconds are meant, write {show(float(number) * 1000)}."
    if given.unit.word == "s" and number >= LONG_S:
        message = f'"{given.name}" is in seconds: {show(float(number), "s")} is {show(float(number) / 60, "min", 1)}.'
        return message, f"Where milliseconds are meant, write {show(float(number) / 1000)}."
    return None
