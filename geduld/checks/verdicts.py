"""What a check says about a run."""

from __future__ import annotations

import math
from collections.abc import Callable
from operator import attrgetter
from typing import Any

from geduld.language.nodes import node

PASS, PART, FAIL = "pass", "part", "fail"
NOT_EXERCISED, NOT_CERTAIN = "not exercised", "not certain"


@node
class Window:
    """A stretch of the run in which a check was tested, in ticks, and how it went there."""

    start: int
    stop: int
    verdict: str


@node
class Finding:
    """How one occurrence went: its window with its verdict, its margin, when it was decided, and why.

    `at` and `because` may be functions that work them out: of many occurrences only one is told.
    """

    window: Window
    margin: float
    unit: str
    at: int | Callable[[], int]
    because: str | Callable[[], str]


@node
class Verdict:
    """A check's verdict on a run.

    `margin` is signed, in `unit`; None where nothing with a unit was compared. `at` is the tick of the
    first failure, or of the closest call; None when the check was not exercised.
    """

    title: str
    verdict: str
    points: float
    of: float
    margin: float | None
    unit: str
    at: int | None
    because: str
    windows: tuple[Window, ...]

    def as_json(self) -> dict[str, Any]:
        """The verdict in the form of `check --json`; times in seconds."""
        return {
            "title": self.title,
            "verdict": self.verdict,
            "points": self.points,
            "of": self.of,
            "margin": self.margin,
            "unit": self.unit,
            "at": None if self.at is None else self.at / 1e6,
            "because": self.because,
            "windows": [
                {"from": window.start / 1e6, "to": window.stop / 1e6, "verdict": window.verdict}
                for window in self.windows
            ],
        }


def gather(title: str, of: float, findings: list[Finding], nothing: str, all_or_none: bool) -> Verdict:
    """One verdict from all occurrences: all passed, a part, or none; the worst one is the evidence.

    `nothing` is the sentence when there was no occurrence; `all_or_none` lets one failure fail the whole.
    """
    if not findings:
        return Verdict(title, NOT_EXERCISED, 0.0, of, None, "", None, nothing, ())
    verdicts = [finding.window.verdict for finding in findings]
    passed = verdicts.count(PASS)
    if FAIL in verdicts:
        verdict, points = (PART, of * passed / len(findings)) if passed and not all_or_none else (FAIL, 0.0)
        worst = findings[verdicts.index(FAIL)]
    elif passed < len(findings):
        verdict, points = NOT_CERTAIN, 0.0
        worst = findings[verdicts.index(NOT_CERTAIN)]
    else:
        verdict, points = PASS, of
        worst = findings[0] if passed == 1 else min(findings, key=_margin)
    at = worst.at if isinstance(worst.at, int) else worst.at()
    because = worst.because if isinstance(worst.because, str) else worst.because()
    if len(findings) > 1 and not all_or_none:
        because = f"{passed} of {len(findings)} times as wanted. {because}"
    margin = worst.margin + 0.0 if math.isfinite(worst.margin) else None
    unit = worst.unit if margin is not None else ""
    windows = tuple([finding.window for finding in findings])
    return Verdict(title, verdict, points, of, margin, unit, at, because, windows)


_margin = attrgetter("margin")
