"""A signal: values that hold from instant to instant, as outputs, lines and what is read without noise do."""

from __future__ import annotations

import numpy as np

from geduld.language.nodes import node
from geduld.worlds.trace import Floats, Ticks


@node
class Signal:
    """Values that hold from their instant until the next. `times` are n rising ticks (us), `values` n in base units."""

    times: Ticks
    values: Floats

    def at(self, ticks: Ticks) -> Floats:
        """The values that hold at these instants; NaN before the first."""
        index = np.searchsorted(self.times, ticks, "right") - 1
        return np.where(index < 0, np.nan, self.values[np.maximum(index, 0)])
