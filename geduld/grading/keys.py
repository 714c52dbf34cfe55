"""What marks are made from, as hashes: equal hashes, equal marks."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from functools import cache
from pathlib import Path

from geduld.grading.exercise import Exercise
from geduld.grading.grade import HandIn
from geduld.readers.reading import NOTATION


@cache
def core_hash() -> str:
    """A hash of the core's own text: a mark is no better than the readers, runs and checks that made it.

    A later Geduld may read a program that this one could not, so its marks are worked out anew.
    """
    found = hashlib.sha256()
    folder = Path(__file__).parents[1]
    for path in sorted(folder.rglob("*.py")):
        found.update(f"{path.relative_to(folder).as_posix()}\0".encode() + path.read_bytes())
    return found.hexdigest()


def check_keys(exercise: Exercise) -> list[str]:
    """For each check a hash of all that its marks are made from, but for the hand-in."""
    source = [
        core_hash(),
        exercise.rig.fingerprint,
        exercise.reference,
        [repr(parsed.tree) for parsed in exercise.library.values()],
        [[case.name, case.world.fingerprint] for case in exercise.cases],
        exercise.over_cases,
        *exercise.words,
    ]
    base = json.dumps(source, sort_keys=True)
    return [_hash(base, repr(replace(check, line=0))) for check in exercise.checks.checks]


def mark_key(check_key: str, hand_in: HandIn) -> str:
    """A hash of all that a hand-in's marks for one check are made from."""
    kind = "recorded" if hand_in.recorded else "program" if hand_in.language == NOTATION else hand_in.language
    return _hash(check_key, kind, hashlib.sha256(hand_in.data).hexdigest())


def _hash(*texts: str) -> str:
    return hashlib.sha256("\0".join(texts).encode()).hexdigest()
