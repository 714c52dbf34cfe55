"""The bench: a program's text in, its hints, its run and its checks out. Nothing is saved here."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.binding.library import Library
from geduld.binding.terms import Threshold
from geduld.checks.judge import judge_all
from geduld.errors import ProgramError
from geduld.grading.exercise import checks_for, runner_for
from geduld.hints.about import hints_in_a_run, program_hints
from geduld.language.quantities import unit_from_text
from geduld.language.source import MOST_BYTES
from geduld.rig.model import Rig as CoreRig
from geduld.run.executor import Runner
from geduld.run.record import Record
from geduld.run.record_json import control_pairs
from server.config.owned import OwnedField
from server.shelf.lanes import lane
from server.shelf.models import Rig, Trace
from server.shelf.services import core_rig, core_trace, library_for
from server.shelf.views import window

MOST_BARS = 3_000


def _text(**options: Any) -> serializers.CharField:
    return serializers.CharField(allow_blank=True, max_length=MOST_BYTES, trim_whitespace=False, **options)


class BenchSerializer(serializers.Serializer):
    """What to run. `reference` is a program whose outputs are drawn behind; `window` is in seconds."""

    rig = OwnedField(queryset=Rig.objects.all())
    text = _text()
    trace = OwnedField(queryset=Trace.objects.defer("data"), required=False, allow_null=True)
    checks = _text(required=False, default="")
    reference = _text(required=False, default="")
    limit = serializers.FloatField(required=False, allow_null=True, min_value=0.001, max_value=1e6)
    window = serializers.DictField(required=False, allow_null=True)


class BenchRun(APIView):
    """Runs a program on a trace, as often as it is edited."""

    @extend_schema(request=BenchSerializer, responses=OpenApiResponse(description="hints, run, checks, thresholds"))
    def post(self, request: Request) -> Response:
        """Hints always; the run and the verdicts when the program has no errors and a trace is chosen."""
        asked = BenchSerializer(data=request.data, context={"request": request})
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        rig, library = core_rig(values["rig"]), library_for(values["rig"])
        bound, hints = program_hints(values["text"], rig, library)
        answer: dict[str, Any] = {
            "hints": [hint.as_json() for hint in hints],
            "thresholds": [_threshold(item, rig) for item in bound.thresholds],
            "run": None,
            "reference": None,
            "checks": [],
            "check_hints": [],
        }
        checks = checks_for(values["checks"], rig) if values["checks"] else None
        if checks is not None:
            answer["check_hints"] = [hint.as_json() for hint in checks.hints]
        if values.get("trace") is None or not bound.good or any(hint.level == "error" for hint in hints):
            return Response(answer)
        trace = core_trace(values["trace"])
        limit = round(values["limit"] * 1e6) if values.get("limit") else None
        record = Runner.of(bound, rig).run(trace, limit, values["text"])
        shown = [*hints, *hints_in_a_run(bound, rig, values["text"], trace, record)]
        answer["hints"] = [hint.as_json() for hint in sorted(shown, key=lambda hint: hint.order)]
        stretch = window(values.get("window") or {}, record.lasted)
        answer["run"] = _run(record, rig, stretch)
        if checks is not None and checks.good:
            answer["checks"] = [verdict.as_json() for verdict in judge_all(checks.checks, record)]
        if values["reference"]:
            answer["reference"] = _reference(values["reference"], rig, library, trace, limit, stretch)
        return Response(answer)


def _threshold(item: Threshold, rig: CoreRig) -> dict[str, Any]:
    """A handle: its value in the part's unit, and how many of the text's units that unit is."""
    part_unit, text_unit = rig.channels[item.part].unit, unit_from_text(item.unit) if item.unit else None
    one = part_unit.to_base(1.0) if part_unit else 1.0
    span = item.span
    return {
        "part": item.part,
        "value": part_unit.from_base(item.value) if part_unit else item.value,
        "unit": item.unit,
        "per_part_unit": text_unit.from_base(one) if text_unit else one,
        "line": span.line,
        "column": span.column,
        "end_column": span.end_column,
    }


def _run(record: Record, rig: CoreRig, stretch: tuple[int, int, int]) -> dict[str, Any]:
    bars = [bar for bar in record.program if bar.stop >= stretch[0] and bar.start <= stretch[1]]
    return {
        "ended_at": record.ended_at / 1e6,
        "lasted": record.lasted / 1e6,
        "why": record.why,
        "said": record.said,
        "outputs": _outputs(record, rig, stretch),
        "program": [
            {"line": bar.line, "from": bar.start / 1e6, "to": bar.stop / 1e6, "state": bar.state, "lane": bar.lane}
            for bar in bars[:MOST_BARS]
        ],
        "program_cut": len(bars) > MOST_BARS,
        "events": [
            {"at": event.tick / 1e6, "kind": event.kind, "line": event.line, "text": event.text}
            for event in record.events[:MOST_BARS]
        ],
        "controls": {name: control_pairs(signal) for name, signal in record.controls.items()},
        "trust": {name: tick / 1e6 for name, tick in record.trust.items()},
    }


def _outputs(record: Record, rig: CoreRig, stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    return [lane(signal, rig.parts[name], *stretch) for name, signal in record.commands.items()]


def _reference(
    text: str, rig: CoreRig, library: Library, trace: Any, limit: int | None, stretch: Any
) -> list[dict[str, Any]] | None:
    try:
        record = runner_for(text, rig, library).run(trace, limit, text)
    except ProgramError:
        return None
    return _outputs(record, rig, stretch)
