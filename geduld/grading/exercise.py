"""An exercise: rig, reference behaviour, cases and checks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from geduld.binding.library import Library
from geduld.checks.binder import bind_checks
from geduld.checks.bound import BoundChecks
from geduld.checks.reading import parse_checks
from geduld.errors import ExerciseError, Place, ProgramError
from geduld.grading.cases import Case, inside, read_case, read_library, text_of, wrong
from geduld.grading.point_rules import read_point_rules
from geduld.grading.points import NO_RULES, PointRules
from geduld.language.messages import listed, ordered
from geduld.language.words import OVER_CASES
from geduld.readers.notation import good_program
from geduld.rig.model import Rig
from geduld.rig.reader import read_rig
from geduld.rig.values import Values
from geduld.run.together import TogetherWorld
from geduld.wordbook.binder import good_wordbook

MOST_CASES = 100
MOST_EXERCISE_BYTES = 1_000_000
_READ = Values(ExerciseError, "exercise")
EXERCISE_KEYS = (
    "geduld", "title", "brief", "rig", "reference", "checks", "cases", "points_over_cases", "due", "late", "round_to",
    "libraries", "words",
)  # fmt: skip


@dataclass(frozen=True)
class Exercise:
    """A task that can be graded.

    `over_cases` says how a check's points come from several cases; `library` what its programs may include; `rules`
    how a hand-in's points come from its marks; `words` are the wordbooks of programs in other languages.
    """

    title: str
    brief: str
    rig: Rig
    reference: str
    checks: BoundChecks
    checks_text: str
    cases: tuple[Case, ...]
    over_cases: str = "mean"
    library: Library = field(default_factory=dict)
    rules: PointRules = NO_RULES
    words: tuple[str, ...] = ()


def checks_for(text: str | bytes, rig: Rig, partner: Rig | None = None) -> BoundChecks:
    """The checks of a text, bound to a rig and to that of a partner, with every hint from reading and from binding."""
    parsed = parse_checks(text)
    bound = bind_checks(parsed.tree, rig, partner)
    return BoundChecks(bound.checks, ordered((*parsed.hints, *bound.hints)), bound.thresholds)


def good_checks(text: str | bytes, rig: Rig, partner: Rig | None = None) -> BoundChecks:
    """Checks ready to judge with. Raises ProgramError with every hint when they have errors."""
    checks = checks_for(text, rig, partner)
    errors = [hint for hint in checks.hints if hint.level == "error"]
    if errors:
        raise ProgramError(errors)
    return checks


def partner_rig(cases: Sequence[Case]) -> Rig | None:
    """The rig of the other device, where some case has one; cases of one exercise have the same."""
    worlds = (case.world for case in cases)
    return next((world.partner.world.rig for world in worlds if isinstance(world, TogetherWorld)), None)


def build_exercise(
    title: str,
    brief: str,
    rig: Rig,
    reference: str,
    checks_text: str,
    cases: Sequence[Case],
    over_cases: str = "mean",
    library: Library | None = None,
    rules: PointRules = NO_RULES,
    words: Sequence[str] = (),
) -> Exercise:
    """An exercise from its pieces. Raises ProgramError when the reference, the checks or a wordbook have errors."""
    good_program(reference, rig, library)
    for book in words:
        good_wordbook(book, rig)
    checks = good_checks(checks_text, rig, partner_rig(cases))
    if not cases:
        raise ExerciseError(
            "no-cases", "The exercise has no case to try programs in.", "Add a trace or a floor as a case."
        )
    return Exercise(
        title, brief, rig, reference, checks, checks_text, tuple(cases), over_cases, library or {}, rules, tuple(words)
    )


def read_exercise(folder: Path) -> Exercise:
    """The exercise in a folder. Raises an InputError with the file and the place in it."""
    source, title = _READ.file(folder / "exercise.json", _source)
    rig = read_rig(inside(folder, source, "rig"))
    cases = [read_case(folder, rig, index, entry) for index, entry in enumerate(_cases(source))]
    names = [case.name for case in cases]
    twice = [name for name in names if names.count(name) > 1]
    if twice:
        raise wrong("cases", f'Two cases are called "{twice[0]}".', "Give each its own name.")
    over = source.get("points_over_cases", "mean")
    if over not in OVER_CASES:
        raise wrong("points_over_cases", f"Points over cases are {listed(OVER_CASES)}.", 'Write "mean".')
    texts = {key: text_of(inside(folder, source, key)) for key in ("reference", "checks")}
    library = read_library(folder, source)
    reads: dict[str, Callable[[], object]] = {
        "reference": lambda: good_program(texts["reference"], rig, library),
        "checks": lambda: good_checks(texts["checks"], rig, partner_rig(cases)),
    }
    for key, read in reads.items():
        try:
            read()
        except ProgramError as problem:
            place = Place(str(source[key]), problem.hints[0].line, problem.hints[0].column)
            raise ExerciseError(f"{key}-has-errors", problem.hints[0].message, problem.remedy, place) from None
    brief, rules = str(source.get("brief", "")), read_point_rules(source)
    words = _words(folder, source, rig)
    return build_exercise(title, brief, rig, texts["reference"], texts["checks"], cases, over, library, rules, words)


def _words(folder: Path, source: dict[str, Any], rig: Rig) -> list[str]:
    names = source.get("words", [])
    if not isinstance(names, list):
        raise wrong("words", "The wordbooks are a list of files.", '["cart-python.geduld", "cart-c.geduld"]')
    books = []
    for index, name in enumerate(names):
        books.append(text_of(inside(folder, {"file": name}, "file", f"words[{index}].")))
        try:
            good_wordbook(books[-1], rig)
        except ProgramError as problem:
            place = Place(str(name), problem.hints[0].line, problem.hints[0].column)
            raise ExerciseError("words-have-errors", problem.hints[0].message, problem.remedy, place) from None
    return books


def _source(data: bytes) -> tuple[dict[str, Any], str]:
    """The table in an `exercise.json`, and the title in it."""
    rest = '"rig": …, "reference": …, "checks": …, "cases": […]'
    return _READ.named(_READ.document(data, MOST_EXERCISE_BYTES), EXERCISE_KEYS, rest, "Dock at the barrel", "title")


def _cases(source: dict[str, Any]) -> list[Any]:
    entries = source.get("cases")
    if not isinstance(entries, list) or not 1 <= len(entries) <= MOST_CASES:
        raise wrong("cases", f"The exercise needs 1 to {MOST_CASES} cases.", '[{"name": …, "trace": …}]')
    return entries
