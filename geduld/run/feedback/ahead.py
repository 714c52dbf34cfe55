"""What conditions read at samples that a world has ahead, if no command changes."""

from __future__ import annotations

from typing import Any

from geduld.binding import terms
from geduld.run.feedback.world import FeedbackWorld


class Ahead:
    """A lookup of readings at `places`, and of the values that are kept. The clock and timers are not known ahead."""

    __slots__ = ("places", "values", "world")

    def __init__(self, world: FeedbackWorld, places: slice, values: list[float]) -> None:
        self.world = world
        self.places = places
        self.values = values

    def __call__(self, term: Any) -> Any:
        """The values of a reading, or a kept value."""
        kind = type(term)
        if kind is terms.Reading or kind is terms.Encoder:
            return self.world.column(term.part)[self.places]
        if kind is terms.Variable or kind is terms.Just:
            return self.values[term.index]
        raise TypeError(f"not known ahead: {term!r}")
