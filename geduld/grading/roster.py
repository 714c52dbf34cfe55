"""Results for a school's register, as the `results.csv` of OneRoster 1.2."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime

from geduld.grading.folders import cell

COLUMNS = (
    "sourcedId", "status", "dateLastModified", "lineItemSourcedId", "studentSourcedId", "scoreStatus", "score",
    "scoreDate", "comment",
)  # fmt: skip
_LONGEST = 200


@dataclass(frozen=True)
class Result:
    """A hand-in's points for the register: `identity` is the row's own, `line_item` the exercise's."""

    identity: str
    line_item: str
    student: str
    points: float
    graded: datetime
    comment: str = ""


def results_csv(results: Iterable[Result]) -> str:
    """Results as CSV text, a row each."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for result in results:
        when = result.graded.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%S.000Z")
        points = f"{result.points:.4f}".rstrip("0").rstrip(".")
        writer.writerow(
            [
                cell(result.identity), "active", when, cell(result.line_item), cell(result.student), "fully graded",
                points, when[:10], cell(result.comment[:_LONGEST]),
            ]
        )  # fmt: skip
    return out.getvalue()
