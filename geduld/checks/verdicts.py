"""What a check says about a run."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from geduld.language.nodes import node

PASS, PART, FAIL = "pass", "part", "fail"
NOT_EXERCISED, NOT_CERTAIN = "not exercised", "not certain"
OPEN = "left open"  # of a window alone: the run ended before it was decided


@node
class Window:
    """A stretch of the run in which a check was tested, in ticks, and how it went there.

    `label` names it where the check names its stretches; `due` is the tick at which it should have ended, where that
    is known.
    """

    start: int
    stop: int
    verdict: str
    label: str = ""
    due: int | None = None


@node
class Finding:
    """How one occurrence went: its window with its verdict, its margin, when it was decided, and why.

    `because` may be a function that works the sentence out: of many occurrences only one is told.
    """

    window: Window
    margin: float
    unit: str
    at: int
    because: str | Callable[[], str]


@node
class Findings:
    """How all occurrences went, in their order: their windows, `told` for one of them in full by its number.

    `worst` is asked for the number of the one with the least margin, among those with a verdict. `called` is what they
    are in a sentence. `at_most` is the share of the points that they can be worth where one failed, and `said` why.
    """

    windows: list[Window]
    told: Callable[[int], Finding]
    worst: Callable[[str], int]
    called: str = "times"
    at_most: float = 1.0
    said: str = ""

    @classmethod
    def of(cls, found: list[Finding], called: str = "times") -> Findings:
        """Those that are known in full."""
        windows = [item.window for item in found]

        def worst(verdict: str) -> int:
            numbers = [number for number, window in enumerate(windows) if window.verdict == verdict]
            return min(numbers, key=lambda number: _spare(found[number]))

        return cls(windows, found.__getitem__, worst, called)


def _spare(finding: Finding) -> tuple[bool, bool, float]:
    """How an occurrence went, to be compared: what never came is worse than what came late."""
    missed = finding.window.verdict == FAIL
    return missed and math.isfinite(finding.margin), missed and finding.unit == "s", finding.margin


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
                {
                    "from": window.start / 1e6,
                    "to": window.stop / 1e6,
                    "verdict": window.verdict,
                    "label": window.label,
                    "due": None if window.due is None else window.due / 1e6,
                }
                for window in self.windows
            ],
        }

    @property
    def left_open(self) -> bool:
        """Whether the run's end alone is why nothing was decided: a longer run would tell."""
        return bool(self.windows) and all(window.verdict == OPEN for window in self.windows)


def gather(title: str, of: float, found: Findings, nothing: str, all_or_none: bool, whole: bool = False) -> Verdict:
    """One verdict from all occurrences: all passed, a part, or none; the worst one is the evidence.

    What the run's end left open counts for nothing where others were decided, and where one failed so does what lies
    past the validity horizon. `nothing` is the sentence when there was no occurrence; `all_or_none` lets one failure
    fail the whole, and `whole` too, which the check's own text asks for.
    """
    verdicts = [window.verdict for window in found.windows]
    if not verdicts:
        return Verdict(title, NOT_EXERCISED, 0.0, of, None, "", None, nothing, ())
    passed, left_open, unsure = (verdicts.count(word) for word in (PASS, OPEN, NOT_CERTAIN))
    count = len(verdicts) - left_open
    if FAIL in verdicts:
        count -= unsure
        share = min(passed / count, found.at_most)
        verdict, points = (PART, of * share) if share and not (all_or_none or whole) else (FAIL, 0.0)
        worst = found.told(found.worst(FAIL) if verdicts.count(FAIL) > 1 else verdicts.index(FAIL))
    elif passed < count or not count:
        verdict, points = NOT_CERTAIN, 0.0
        worst = found.told(verdicts.index(NOT_CERTAIN if count else OPEN))
    else:
        verdict, points = PASS, of
        worst = found.told(found.worst(PASS) if passed > 1 else verdicts.index(PASS))
    because = worst.because if isinstance(worst.because, str) else worst.because()
    if count > 1 and not all_or_none:
        lost = " It is all or nothing." if whole and passed < count else ""
        if passed < count and passed >= found.at_most * count:
            lost += found.said
        because = f"{passed} of {count} {found.called} as wanted.{lost} {because}"
    if left_open and count:
        because += f" The run's end left {left_open} more undecided, which counts for nothing."
    if unsure and FAIL in verdicts:
        because += f" {unsure} more came when the readings could no longer be trusted, which counts for nothing."
    margin = worst.margin + 0.0 if math.isfinite(worst.margin) else None
    unit = worst.unit if margin is not None else ""
    return Verdict(title, verdict, points, of, margin, unit, worst.at, because, tuple(found.windows))
