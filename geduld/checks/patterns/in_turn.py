"""`in turn: …`: the phases of a figure, each behind the one before, with their lengths."""

from __future__ import annotations

from functools import partial

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck
from geduld.checks.figure import lay
from geduld.checks.figure_evidence import found_in
from geduld.checks.pattern import Form, OverTime
from geduld.checks.phases import conditions_of, read_phase, read_turns, write_phase
from geduld.checks.sheet import Check, Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.formatter import Printer, expression_text
from geduld.language.lexer import Line
from geduld.language.tree import Expression
from geduld.run.record.record import Record

_EXAMPLE = "Write for example: then still for 5 s +- 0.3 s"


class InTurn(OverTime):
    """`in turn [, N times] [, gaps up to T] [, anything between]:`, phases under it, and `then …` lines behind it.

    Worth the share of the phases that were as wanted. The figure is laid over the run so that most are (`figure`).
    """

    kind = "in turn"
    words = ("in", "then", "gaps", "up", "anything", "the", "end", "run")
    start = ("in", "turn")
    block = True
    forms = (
        Form(
            "in turn: …",
            "phases one behind the other, each with its length",
            "in turn, ${4} times, gaps up to ${0.5} s:\n    ${<moves>} for ${2} s +- ${0.1} s\n"
            "    ${<rests>} for ${1} s +- ${0.1} s",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """Not asked: it stands on several lines."""
        raise cursor.unexpected("a sentence on one line", "Write for example: after nose is pressed, within 1 s, still")

    def read_block(self, cursor: Cursor, lines: list[Line]) -> Sentence:
        """The phases under the first line, and those behind `then`."""
        phases = [read_turns(lines[0], cursor, ())]
        behind = []
        for line in lines[1:]:
            cursor = Cursor(line)
            cursor.expect("then", "at the beginning of what follows the phases", _EXAMPLE)
            behind.append(read_phase(line, cursor))
        return Sentence(self.kind, phases=(*phases, *behind))

    def written(self, sentence: Sentence) -> str:
        """The whole block, without its comments."""
        out = Printer()
        self._write(out, 0, sentence)
        return out.text().rstrip("\n")

    def write(self, out: Printer, check: Check) -> None:
        """The block with its comments."""
        out.comments(1, check.sentence_before)
        self._write(out, 1, check.sentence)
        out.comments(1, check.sentence_trailing)

    def _write(self, out: Printer, level: int, sentence: Sentence) -> None:
        head, *behind = sentence.phases
        write_phase(out, level, head)
        for phase in behind:
            write_phase(out, level, phase, "then ")

    def bind(self, sentence: Sentence, scope: Scope) -> tuple[tuple[terms.Term, ...], tuple[str, ...]]:
        """The conditions of all phases, each once."""
        phases = list(conditions_of(sentence.phases))
        found = scope.each(*(partial(scope.condition, phase.condition) for phase in phases))
        once: dict[terms.Term, str] = {}
        for term, phase in zip(found, phases, strict=True):
            once.setdefault(term, expression_text(phase.condition))
        return tuple(once), tuple(once.values())

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """Each phase where the figure is laid best."""
        spans = [timeline.course(look).spans for look in check.looks]
        if all(not len(starts) for starts, _ in spans):
            return Findings.of([])
        return found_in(check, timeline, lay(check.phases, spans, timeline.record))

    def nothing(self, check: BoundCheck) -> str:
        """Not one of the phases."""
        return "None of these phases was there in this run."

    def untold(self, check: BoundCheck, record: Record) -> str:
        """Why nothing tells how long a phase is."""
        lengths = dict.fromkeys(phase.length for phase in check.phases if phase.length)
        return next((said for length in lengths if (said := length.unknown(record))), "")
