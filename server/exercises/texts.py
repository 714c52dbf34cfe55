"""What is said of an exercise's texts. It is worked out once for the same texts, as lists show it again and again."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from geduld.binding.library import library_of
from geduld.checks.reading import parse_checks
from geduld.grading.exercise import checks_for
from geduld.readers.notation import NotationProgram
from geduld.rig.reader import rig_from_json
from server.shelf.models import Rig

Found = tuple[list[dict[str, Any]], dict[str, Any]]


def looked_through(
    rig: Rig, library: tuple[str, ...], reference: str, checks: str, partner: Rig | None = None
) -> Found:
    """Each check's title and points, and the hints about the reference and the checks."""
    other = "" if partner is None else json.dumps(partner.source)
    titles, problems = _looked_through(json.dumps(rig.source), library, reference, checks, other)
    return json.loads(titles), json.loads(problems)


@lru_cache(maxsize=512)
def checks_in(text: str) -> int:
    """How many checks a text has."""
    return len(parse_checks(text).tree.checks)


@lru_cache(maxsize=256)
def _looked_through(
    source: str, library: tuple[str, ...], reference: str, checks: str, partner: str
) -> tuple[str, str]:
    rig = rig_from_json(json.loads(source))
    bound = checks_for(checks, rig, rig_from_json(json.loads(partner)) if partner else None)
    titles = [{"title": check.title, "points": check.points, "private": check.private} for check in bound.checks]
    problems = {
        "reference": [hint.as_json() for hint in NotationProgram(reference, rig, library_of(library)).hints],
        "checks": [hint.as_json() for hint in bound.hints],
    }
    return json.dumps(titles, allow_nan=False), json.dumps(problems)
