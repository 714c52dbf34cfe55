"""Proofreads an exercise: would its checks notice the usual mistakes, and are they fair to other words?"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from geduld.checks.verdicts import NOT_EXERCISED, PASS
from geduld.errors import ProgramError
from geduld.grading.advice import advice_about
from geduld.grading.exercise import Exercise
from geduld.grading.grade import Graded, HandIn, Mark, grade_one, prepare
from geduld.grading.mistakes import KINDS, LeftOut, Mistake, plant
from geduld.grading.rewrites import in_class_words, rewrite
from geduld.language.parser import parse
from geduld.readers.notation import runner_for
from geduld.run.record.record import Record

CAUGHT, MISSED = "caught", "missed"


@dataclass(frozen=True)
class Planted:
    """A planted mistake: `outcome` is caught or missed, `caught_by` the checks that gave less than full points.

    `also` counts other plantings that did the very same in every case.
    """

    mistake: Mistake
    outcome: str
    caught_by: tuple[str, ...]
    points: float
    also: int = 0


@dataclass(frozen=True)
class Rewritten:
    """A harmless rewrite, and the marks that it lost."""

    what: str
    text: str
    lost: tuple[Mark, ...]


@dataclass(frozen=True)
class Proof:
    """What proofreading found.

    `reference` are the reference's own marks. `hidden` are mistakes that change nothing in any case: only another case
    could show them. `left_out` are those that could not be tried, and `no_place` the kinds of mistakes for which the
    reference has no place. `advice` is how the first check that the reference itself fails could be asked instead.
    """

    exercise: Exercise
    reference: Graded
    planted: tuple[Planted, ...]
    hidden: tuple[Mistake, ...]
    rewritten: tuple[Rewritten, ...]
    left_out: tuple[LeftOut, ...] = ()
    no_place: tuple[str, ...] = ()
    advice: str = ""

    @property
    def reference_is_good(self) -> bool:
        """Whether the reference passes every check, and every check is exercised."""
        return all(mark.verdict == PASS for mark in self.reference.totals)

    @property
    def missed(self) -> list[Planted]:
        """The mistakes that no check notices."""
        return [item for item in self.planted if item.outcome == MISSED]

    @property
    def score(self) -> float:
        """The share of the mistakes that are caught; 1 when there are none."""
        return 1.0 - len(self.missed) / len(self.planted) if self.planted else 1.0

    @property
    def proves(self) -> bool:
        """Whether the exercise can be given out as it is."""
        return self.reference_is_good and not self.missed and not any(item.lost for item in self.rewritten)

    @property
    def sentence(self) -> str:
        """What is missing, in one sentence."""
        weak = next((mark for mark in self.reference.totals if mark.verdict != PASS), None)
        if weak is not None:
            what = (
                "is exercised by no case"
                if weak.verdict == NOT_EXERCISED
                else f"is {weak.verdict} for the reference itself"
            )
            return f'The check "{weak.check}" {what}: {weak.because} {self.advice}'.rstrip()
        unfair = next((item for item in self.rewritten if item.lost), None)
        if unfair is not None:
            lost = unfair.lost[0]
            head = f'The check "{lost.check}" takes points from a program that does the same'
            return f"{head} ({unfair.what}): {lost.because}"
        if self.missed:
            kinds: dict[str, int] = {}
            for item in self.missed:
                kinds[item.mistake.kind] = kinds.get(item.mistake.kind, 0) + 1
            most = max(kinds, key=lambda kind: kinds[kind])
            first = next(item for item in self.missed if item.mistake.kind == most)
            head = f"{len(self.missed)} of {len(self.planted)} mistakes go unnoticed, most of the kind {most}"
            return f"{head}, such as in line {first.mistake.line}: {first.mistake.what}."
        return f"All {len(self.planted)} planted mistakes are caught, and harmless rewrites keep full marks."

    def as_json(self) -> dict[str, Any]:
        """The proof in the form of `prove --json`."""
        return {
            "geduld": "proof/1",
            "proves": self.proves,
            "score": round(self.score, 4),
            "sentence": self.sentence,
            "hidden": [
                {"kind": item.kind, "line": item.line, "what": item.what, "text": item.text} for item in self.hidden
            ],
            "left_out": [
                {"kind": item.kind, "line": item.line, "what": item.what, "why": item.why} for item in self.left_out
            ],
            "no_place": list(self.no_place),
            "reference": [
                {key: getattr(mark, key) for key in ("check", "verdict", "points", "of", "margin", "unit", "because")}
                for mark in self.reference.totals
            ],
            "mistakes": [
                {
                    "kind": item.mistake.kind,
                    "line": item.mistake.line,
                    "what": item.mistake.what,
                    "outcome": item.outcome,
                    "caught_by": list(item.caught_by),
                    "points": item.points,
                    "also": item.also,
                    "text": item.mistake.text,
                }
                for item in self.planted
            ],
            "rewrites": [
                {
                    "what": item.what,
                    "text": item.text,
                    "lost": [{"check": mark.check, "because": mark.because} for mark in item.lost],
                }
                for item in self.rewritten
            ],
        }


def prove(exercise: Exercise, progress: Callable[[int, int], None] = lambda done, of: None) -> Proof:
    """Runs the reference, every planted mistake and every harmless rewrite through the whole exercise.

    `progress` is told how many of all programs are done.
    """
    prepared = prepare(exercise)
    plan = parse(exercise.reference).tree
    mistakes, left_out = plant(plan, exercise.rig)
    rewrites = [*rewrite(plan), *in_class_words(exercise)]
    total = len(mistakes) + len(rewrites) + 1
    reference = grade_one(prepared, HandIn("reference", exercise.reference.encode()))
    progress(1, total)
    right = _behaviour(exercise, exercise.reference)
    planted: dict[str, Planted] = {}
    hidden: list[Mistake] = []
    for done, mistake in enumerate(mistakes, 2):
        try:
            key = _behaviour(exercise, mistake.text)
        except ProgramError as problem:
            left_out.append(LeftOut(mistake.kind, mistake.line, mistake.what, f"Geduld refuses it: {problem.message}"))
            progress(done, total)
            continue
        if key in planted:
            first = planted[key]
            planted[key] = Planted(first.mistake, first.outcome, first.caught_by, first.points, first.also + 1)
        elif key == right:
            hidden.append(mistake)
        else:
            graded = grade_one(prepared, HandIn("mistake", mistake.text.encode()))
            if graded.failed:
                left_out.append(LeftOut(mistake.kind, mistake.line, mistake.what, graded.problem))
            else:
                planted[key] = _judged(mistake, graded, reference)
        progress(done, total)
    rewritten = []
    for done, item in enumerate(rewrites, 2 + len(mistakes)):
        graded = grade_one(prepared, HandIn(item.what, item.text.encode(), language=item.language))
        rewritten.append(Rewritten(item.what, item.text, tuple(_less(graded, reference))))
        progress(done, total)
    tried = {item.kind for item in mistakes} | {item.kind for item in left_out}
    no_place = tuple(kind for kind in KINDS if kind not in tried)
    found = tuple(planted.values())
    advice = advice_about(exercise, prepared, [mark.verdict for mark in reference.totals])
    return Proof(exercise, reference, found, tuple(hidden), tuple(rewritten), tuple(left_out), no_place, advice)


def _less(graded: Graded, reference: Graded) -> list[Mark]:
    """The marks over all cases that are below the reference's own: what it fails itself tells nothing of others."""
    pairs = zip(graded.totals, reference.totals, strict=True)
    return [mark for mark, own in pairs if mark.points < own.points]


def _judged(mistake: Mistake, graded: Graded, reference: Graded) -> Planted:
    caught = tuple(mark.check for mark in _less(graded, reference))
    return Planted(mistake, CAUGHT if caught or graded.problem else MISSED, caught, graded.points)


def _behaviour(exercise: Exercise, text: str) -> str:
    """A hash of all that a program does in every case. Raises ProgramError when it has errors."""
    runner = runner_for(text, exercise.rig, exercise.library)
    digest = hashlib.sha256()
    for case in exercise.cases:
        _add(digest, case.world.run(runner)[0])
    return digest.hexdigest()


def _add(digest: hashlib._Hash, record: Record) -> None:
    for name, signal in sorted(record.commands.items()):
        digest.update(name.encode() + signal.times.tobytes() + signal.values.tobytes())
    for name, signal in sorted(record.controls.items()):
        digest.update(name.encode() + signal.times.tobytes() + signal.values.tobytes())
    # what a program says of itself no check can ask, so a note or a reason less is no mistake here
    said = [(event.tick, event.kind) for event in record.events if event.kind in ("contact", "limit")]
    digest.update(repr(said).encode())
