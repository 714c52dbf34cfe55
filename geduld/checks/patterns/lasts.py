"""`C lasts T +- e`: how long each stretch of C is, in time, in way or in angle."""

from __future__ import annotations

from functools import partial

import numpy as np

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, quoted, seconds, uncertain
from geduld.checks.lengths import ABOUT, MOST, TO_THE_END, VERDICTS, BoundLength, length_text, read_length
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, OPEN, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression
from geduld.run.record.record import Record


class Lasts(OverTime):
    """`C lasts T +- e`, `lasts at least 30 cm`, `lasts at most 90 deg of left`."""

    kind = "lasts"
    words = ("lasts",)
    behind = ("lasts",)
    forms = (
        Form("… lasts … +- …", "how long a stretch is", "${<moves>} lasts ${1.5} s +- ${0.2} s"),
        Form(
            "… lasts … cm +- … cm",
            "how far the robot goes in a stretch",
            "${<moves>} lasts ${30} cm +- ${2} cm",
            "drive",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`T +- e`."""
        assert first is not None
        return Sentence(self.kind, (first,), length=read_length(cursor))

    def written(self, sentence: Sentence) -> str:
        """`C lasts T +- e`."""
        assert sentence.length is not None
        return f"{parts(sentence)[0]} lasts {length_text(sentence.length)}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """Each stretch."""
        starts, behinds = timeline.course(check.looks[0]).spans
        length, lasted = _of(check), timeline.record.lasted
        stops = np.minimum(behinds, lasted)
        lengths, cut = length.of_stretches(timeline.record, starts, stops), behinds > lasted
        verdicts = length.judged(lengths, cut).tolist()
        each = zip(starts.tolist(), stops.tolist(), lengths.tolist(), cut.tolist(), verdicts, strict=True)
        return Findings.of([_lasts(check, timeline, *item) for item in each])

    def untold(self, check: BoundCheck, record: Record) -> str:
        """Why nothing tells how long a stretch is."""
        return _of(check).unknown(record)


def _of(check: BoundCheck) -> BoundLength:
    assert check.length is not None
    return check.length


def _lasts(
    check: BoundCheck, timeline: Timeline, start: int, stop: int, length: float, cut: bool, place: int
) -> Finding:
    wanted, verdict = _of(check), VERDICTS[place]
    if timeline.horizon < stop:
        until, cut = max(start, timeline.horizon), True
        length = float(wanted.of_stretches(timeline.record, np.array([start]), np.array([until]))[0])
        verdict = VERDICTS[int(wanted.judged(np.array([length]), np.array([cut]))[0])]
        if timeline.horizon < start or verdict == OPEN or wanted.form == TO_THE_END:
            return uncertain(start, stop, timeline.horizon, start)
        stop = until
    because = partial(_lasted, check, start, length, cut, verdict)
    if verdict == OPEN:
        return cut_short(start, stop, because)
    due = wanted.due(timeline.record, start)
    at = start
    if verdict == FAIL:
        at = stop if due is None or wanted.margin(length) > 0 else min(stop, _too_long_at(wanted, timeline, start, due))
    return Finding(Window(start, stop, verdict, due=due), wanted.margin(length), wanted.unit, at, because)


def _too_long_at(wanted: BoundLength, timeline: Timeline, start: int, due: int) -> int:
    """The tick at which a stretch is longer than it may be."""
    if wanted.form == ABOUT:
        past = BoundLength(MOST, wanted.wanted + wanted.around, 0, wanted.what, wanted.of, "")
        return past.due(timeline.record, start) or timeline.record.lasted
    return due if wanted.form == MOST else timeline.record.lasted


def _lasted(check: BoundCheck, start: int, length: float, cut: bool, verdict: str) -> str:
    wanted = _of(check)
    words, target = quoted(check.words[0]), f"{wanted.words} was wanted"
    if verdict == OPEN:
        return f"{words} held from {seconds(start)}, and the run ended {wanted.shown(length)} later; {target}."
    open_end = " and was still so when the run ended" if cut else ""
    return f"{words} held for {wanted.shown(length)} from {seconds(start)}{open_end}; {target}."
