"""How much a sensor trembles."""

from __future__ import annotations

import math

import numpy as np

from geduld.worlds.trace import Floats


def noise_of(values: Floats) -> float:
    """A sensor's noise as a standard deviation: from its steps between changes, by their median size.

    1.4826 times the median absolute step is a robust deviation of the steps; sqrt 2 of it is one sample's.
    """
    known = values[~np.isnan(values)]
    steps = np.diff(known)
    steps = steps[steps != 0]
    return float(1.4826 * np.median(np.abs(steps)) / math.sqrt(2)) if len(steps) else 0.0
