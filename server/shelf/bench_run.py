"""One run of the bench: a program's text in; its hints, its run and its checks out. Nothing is saved here."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from geduld.binding.terms import Setting, Threshold
from geduld.checks.bound import BoundChecks
from geduld.checks.judge import facts_asked, judge_all
from geduld.errors import InputError
from geduld.grading.devices import with_handed_in
from geduld.grading.exercise import checks_for
from geduld.language.messages import ordered
from geduld.language.quantities import Unit, unit_from_text
from geduld.readers.reading import NOTATION, good_program_in, read_program
from geduld.rig.model import Rig as CoreRig
from geduld.run.program.program import Program
from geduld.run.record.as_csv import channels_csv
from geduld.run.record.differences import Difference, difference_words, differences
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.run.world import TraceWorld, World
from geduld.understood.understood import understood
from server.shelf.importing import Imported, imported
from server.shelf.lanes import lanes, window
from server.shelf.latest import Latest
from server.shelf.models import Behaviour, Floor, Rig, Trace, Wordbook
from server.shelf.reading import owned_row, unchanged
from server.shelf.runs import outputs_json, run_json
from server.shelf.services import core_rig, library_for, library_in, library_texts
from server.shelf.worlds import core_world

_checks: Latest[BoundChecks] = Latest(32)
_others: Latest[Record | None] = Latest(8)


def bench_json(teacher: int, asked: Mapping[str, Any]) -> bytes:
    """The answer of the bench as JSON, of validated values that name a teacher's rows.

    Raises ValidationError where there is no such row.
    """
    answer = bench_answer(with_rows(teacher, asked))
    return json.dumps(answer, allow_nan=False, separators=(",", ":"), ensure_ascii=False).encode()


def with_rows(teacher: int, asked: Mapping[str, Any]) -> dict[str, Any]:
    """Validated values with a teacher's rows in the place of their keys, and the texts of the wordbooks.

    Raises ValidationError where there is no such row.
    """
    rows = {
        "rig": Rig.objects.all(),
        "trace": Trace.objects.defer("data"),
        "floor": Floor.objects.all(),
        "partner": Behaviour.objects.all(),
    }
    found = {name: owned_row(queryset, name, asked.get(name), teacher) for name, queryset in rows.items()}
    return {**asked, **found, "words": _word_texts(teacher, asked)}


def bench_answer(values: Mapping[str, Any], world: World | None = None) -> dict[str, Any]:
    """Hints always; the run and the verdicts when the program has no errors and a world is chosen, or given."""
    rig, sheet = core_rig(values["rig"]), values["checks"]
    texts = unchanged(("libraries", values["rig"].pk), lambda: library_texts(values["rig"]))
    program = program_of(values, rig, texts)
    answer: dict[str, Any] = {
        "hints": [hint.as_json() for hint in program.hints],
        "thresholds": [_threshold(item, rig) for item in program.thresholds],
        "settings": [_setting(item, rig) for item in program.settings],
        "run": None,
        "behind": None,
        "differences": [],
        "checks": [],
        "check_hints": [],
        "world_problem": None,
        "understood": [vars(line) for line in understood(program)] if values.get("understood") else [],
    }
    other = core_rig(values["partner"].rig) if values.get("partner") else None
    known = sheet, rig.fingerprint, other and other.fingerprint
    checks = _checks.get(known, lambda: checks_for(sheet, rig, other)) if sheet else None
    if checks is not None:
        answer["check_hints"] = [hint.as_json() for hint in checks.hints]
    try:
        world = world or world_of(values, rig)
    except InputError as problem:
        answer["world_problem"] = {"message": problem.message, "remedy": problem.remedy}
        return answer
    if world is None or not program.good:
        return answer
    try:
        record, seen = world.run(Runner(program), values["text"])
    except InputError as problem:
        answer["world_problem"] = {"message": problem.message, "remedy": problem.remedy}
        return answer
    shown = ordered((*program.hints, *program.hints_in(seen, record)))
    answer["hints"] = [hint.as_json() for hint in shown]
    stretch = window(values.get("window") or {}, record.lasted)
    answer["run"] = run_json(record, rig, stretch)
    if values["doings"] or values.get("trace") is None or not isinstance(world, TraceWorld):
        answer["run"]["readings"] = lanes(seen, rig, *stretch)
    notation = {"text": values["reference"], "language": NOTATION}
    reference = _other(notation, values, rig, texts, world) if values["reference"] else None
    pinned = values.get("behind")
    behind = _other(pinned, values, rig, texts, world) if pinned else reference
    if behind is not None:
        answer["behind"] = outputs_json(behind, rig, stretch)
        answer["differences"] = [_difference(item, rig) for item in differences(record, behind)]
    if checks is not None and checks.good:
        facts = facts_asked(checks.checks, program)
        verdicts = judge_all(checks.checks, record, reference, facts)
        answer["checks"] = [verdict.as_json() for verdict in verdicts]
    return answer


def program_of(values: Mapping[str, Any], rig: CoreRig, texts: tuple[str, ...]) -> Program:
    """The program that is asked about, with the libraries that it may include."""
    language, words = values.get("language", NOTATION), values.get("words", ())
    return read_program(values["text"], rig, language, library_in(texts), words)


def world_of(values: Mapping[str, Any], rig: CoreRig) -> World | None:
    """The world that is asked about; None where none is named. Raises InputError as `core_world`."""
    world = core_world(rig, values)
    if world is not None and values.get("language", NOTATION) == NOTATION:
        return with_handed_in(world, values["text"])
    return world


def _word_texts(teacher: int, asked: Mapping[str, Any]) -> tuple[str, ...]:
    """The texts of the wordbooks that are named, as far as they are the teacher's."""
    keys = asked.get("wordbooks") or ()
    if not keys:
        return ()
    found = Wordbook.objects.filter(owner=teacher, pk__in=keys).order_by("id")
    return tuple(found.values_list("text", flat=True))


def kept_run(teacher: int, values: Mapping[str, Any]) -> Imported | None:
    """What a run read and commanded, as if it had been recorded; None where no world is named.

    Raises ProgramError for a program with errors.
    """
    rig = core_rig(values["rig"])
    world = core_world(rig, values)
    if world is None:
        return None
    library, words = library_for(values["rig"]), _word_texts(teacher, values)
    program = good_program_in(values["text"], rig, values["language"], library, words)
    record, _ = world.run(Runner(program), values["text"])
    return imported(channels_csv(record).encode(), rig)


def _threshold(item: Threshold, rig: CoreRig) -> dict[str, Any]:
    """A handle: its value in the part's unit, and how many of the text's units that unit is."""
    return {"part": item.part, **_moved(item, rig.channels[item.part].unit)}


def _setting(item: Setting, rig: CoreRig) -> dict[str, Any]:
    """A handle of what a step sets: in the part's unit, in s, or, of a way, in the text's own unit."""
    part = rig.parts.get(item.part) or rig.channels.get(item.part)
    unit = part.unit if part else unit_from_text(item.unit) if item.what == "way" else None
    return {"part": item.part, "what": item.what, "step": item.line, **_moved(item, unit)}


def _moved(item: Threshold | Setting, shown: Unit | None) -> dict[str, Any]:
    """What moving a number needs: its value in the unit it is shown in, how many of the text's that is, its place."""
    text_unit = unit_from_text(item.unit) if item.unit else None
    one = shown.to_base(1.0) if shown else 1.0
    span = item.span
    return {
        "value": shown.from_base(item.value) if shown else item.value,
        "unit": item.unit,
        "per_part_unit": item.factor * one if item.factor else text_unit.from_base(one) if text_unit else one,
        "zero": item.zero if isinstance(item, Threshold) else 0.0,
        "line": span.line,
        "column": span.column,
        "end_column": span.end_column,
    }


def _difference(item: Difference, rig: CoreRig) -> dict[str, Any]:
    """Where two runs differ, in s, and how, in words."""
    words = difference_words(item, rig.parts[item.part])
    return {"part": item.part, "from": item.start / 1e6, "to": item.stop / 1e6, "words": words}


def _other(
    other: Mapping[str, Any], values: Mapping[str, Any], rig: CoreRig, texts: tuple[str, ...], world: World
) -> Record | None:
    """Another program's run in the same world; None while it has errors."""
    words = tuple(values.get("words", ()))

    def run() -> Record | None:
        program = program_of({**other, "words": words}, rig, texts)
        return world.run(Runner(program), other["text"])[0].written() if program.good else None

    return _others.get((other["text"], other["language"], words, rig.fingerprint, texts, world.fingerprint), run)
