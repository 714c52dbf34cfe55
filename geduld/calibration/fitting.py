"""Least-squares fits with intervals.

The parameters' covariance is that of the model made straight at its best fit, s^2 (J'J)^-1 with s^2 the residuals' sum
of squares over the degrees of freedom; intervals are Student's t at 95 %. For models that are straight in their
parameters that is exact for normal errors; for the others, and for what is worked out from parameters (by its
gradient), it is right to first order (G. A. F. Seber, C. J. Wild, Nonlinear Regression, 1989, chapters 2 and 5).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import least_squares
from scipy.special import stdtrit

from geduld.worlds.trace import Floats

SURE = 0.95
Model = Callable[[Floats, Floats], Floats]


@dataclass(frozen=True)
class Interval:
    """A value with the ends between which it lies, by 95 %; infinite ends where there is nothing to tell them by."""

    value: float
    low: float
    high: float

    @property
    def half(self) -> float:
        """Half its width."""
        return (self.high - self.low) / 2

    def scaled(self, factor: float) -> Interval:
        """The same times a positive factor."""
        return Interval(self.value * factor, self.low * factor, self.high * factor)


@dataclass(frozen=True)
class Fit:
    """A model fitted to n measurements: `params` of shape (p,), `jacobian` (n, p), `residuals` (n,), measured less
    fitted; `spread` the standard deviation of one measurement, NaN without degrees of `freedom`."""

    model: Model
    params: Floats
    jacobian: Floats
    residuals: Floats
    spread: float
    freedom: int

    @cached_property
    def covariance(self) -> Floats:
        """The parameters' covariance, shape (p, p)."""
        return np.asarray(self.spread**2 * np.linalg.pinv(self.jacobian.T @ self.jacobian), np.float64)

    def of(self, quantity: Callable[[Floats], float]) -> Interval:
        """What is worked out from the parameters, with its interval."""
        value = quantity(self.params)
        slope = gradient(quantity, self.params)
        return interval(value, float(slope @ self.covariance @ slope), self.freedom)

    def predicted(self, inputs: Floats) -> Interval:
        """What one more measurement would be, with the interval in which it would lie. `inputs` has shape (k,)."""

        def at(params: Floats) -> float:
            return float(self.model(params, inputs[np.newaxis])[0])

        slope = gradient(at, self.params)
        variance = float(slope @ self.covariance @ slope) + self.spread**2
        return interval(at(self.params), variance, self.freedom)

    def narrowed(self, quantity: Callable[[Floats], float], inputs: Floats) -> float:
        """How wide the interval of a quantity would be with one more measurement there, as a share of what it is."""
        before, after = self.jacobian.T @ self.jacobian, None
        row = gradient(lambda params: float(self.model(params, inputs[np.newaxis])[0]), self.params)
        after = before + np.outer(row, row)
        slope = gradient(quantity, self.params)
        old = math.sqrt(max(0.0, float(slope @ np.linalg.pinv(before) @ slope)))
        new = math.sqrt(max(0.0, float(slope @ np.linalg.pinv(after) @ slope)))
        if not old or self.freedom < 1:
            return 1.0
        return new / old * _t(self.freedom + 1) / _t(self.freedom)


def _t(freedom: float) -> float:
    """Student's t that an error exceeds on either side in 5 of 100."""
    return float(stdtrit(freedom, 0.5 + SURE / 2))


def interval(value: float, variance: float, freedom: float) -> Interval:
    """A value's interval from its variance."""
    if freedom <= 0 or not math.isfinite(variance):
        return Interval(value, -math.inf, math.inf)
    half = _t(freedom) * math.sqrt(max(0.0, variance))
    return Interval(value, value - half, value + half)


def ratio(above: Interval, of_above: int, below: Interval, of_below: int) -> Interval:
    """The quotient of two values that were measured apart, with each one's degrees of freedom.

    Its relative variance is the sum of theirs; its degrees of freedom are Welch's and Satterthwaite's.
    """
    value = above.value / below.value
    parts = []
    for part, freedom in ((above, of_above), (below, of_below)):
        if freedom <= 0 or not math.isfinite(part.half):
            return Interval(value, -math.inf, math.inf)
        parts.append((part.half / _t(freedom) / part.value) ** 2)
    total = sum(parts)
    if not total:
        return Interval(value, value, value)
    together = total**2 / sum(part**2 / f for part, f in zip(parts, (of_above, of_below), strict=True))
    return interval(value, total * value**2, together)


def fitted_straight(design: Callable[[Floats], Floats], inputs: Floats, measured: Floats) -> Fit:
    """The best fit of a model that is straight in its parameters: measured = design(inputs) @ params.

    `design` gives shape (n, p) for inputs of shape (n, k).
    """
    jacobian = design(inputs)
    params, _, rank, _ = np.linalg.lstsq(jacobian, measured, rcond=None)
    residuals = measured - jacobian @ params
    return _fit(lambda p, x: design(x) @ p, np.asarray(params, np.float64), jacobian, residuals, int(rank))


def _fit(model: Model, params: Floats, jacobian: Floats, residuals: Floats, rank: int) -> Fit:
    freedom = len(residuals) - rank
    spread = math.sqrt(float((residuals**2).sum()) / freedom) if freedom > 0 else math.nan
    return Fit(model, params, jacobian, residuals, spread, freedom)


def fitted(model: Model, start: Floats, inputs: Floats, measured: Floats) -> Fit:
    """The best fit of a model of p parameters to n measurements. `inputs` has shape (n, k), `measured` (n,)."""
    scale = np.where(start == 0, 1.0, np.abs(start))
    found = least_squares(
        lambda params: measured - model(params, inputs), start, x_scale=scale, xtol=1e-12, ftol=1e-12, gtol=1e-12
    )
    jacobian = np.asarray(-found.jac, np.float64)
    return _fit(model, np.asarray(found.x, np.float64), jacobian, found.fun, int(np.linalg.matrix_rank(jacobian)))


def gradient(quantity: Callable[[Floats], float], params: Floats) -> Floats:
    """The gradient of a quantity, by central differences, shape (p,)."""
    slopes = np.empty(len(params))
    for place, value in enumerate(params.tolist()):
        step = 1e-6 * max(1e-3, abs(value))
        up, down = params.copy(), params.copy()
        up[place] += step
        down[place] -= step
        slopes[place] = (quantity(up) - quantity(down)) / (2 * step)
    return slopes
