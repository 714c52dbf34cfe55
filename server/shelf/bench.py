"""The bench over HTTP: what is asked is looked at here, and run in a process of its own."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.reading import LANGUAGES, NOTATION
from server.config.apart import TookTooLong, in_turn, newest
from server.config.owned import KeyField, OwnedField, teacher_of
from server.shelf.answers import BenchAnswerSerializer, WhyAnswerSerializer, WhyNotAnswerSerializer
from server.shelf.bench_run import bench_json, kept_run
from server.shelf.models import Rig
from server.shelf.serializers import TraceSerializer
from server.shelf.services import save_trace
from server.shelf.why import why_answer, why_not_answer
from server.shelf.worlds import SituationSerializer, WorldSerializer

MOST_SECONDS = 5.0
MOST_SECONDS_TO_KEEP = 30.0
MOST_AT = 1e6  # s
MOST_LINES = 5_000
_TOO_LONG = {
    "message": f"This run was stopped: it took more than {MOST_SECONDS:.0f} s to work out.",
    "remedy": "Let its loops and lanes wait longer, or try a shorter stretch of time.",
}


def _text(**options: Any) -> serializers.CharField:
    return serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, **options)


class BehindSerializer(serializers.Serializer):
    """A program whose outputs are drawn behind those of another, and compared with them."""

    text = _text()
    language = serializers.ChoiceField(choices=LANGUAGES, default=NOTATION)


class BenchSerializer(SituationSerializer):
    """What to run, and in which world. `reference` is the program that checks compare with; `window` is in s.

    `behind` is a program whose outputs are drawn behind; where none is given, the reference is.

    `language` is that of the text; programs in other languages than the notation are read with `wordbooks`, and
    `understood` asks what one was understood as.

    The rows are only named here: they are read where the program is run.
    """

    rig = KeyField()
    trace = KeyField(required=False, allow_null=True)
    floor = KeyField(required=False, allow_null=True)
    partner = KeyField(required=False, allow_null=True)
    text = _text()
    language = serializers.ChoiceField(choices=LANGUAGES, default=NOTATION)
    wordbooks = serializers.ListField(child=KeyField(), required=False, default=list, max_length=20)
    checks = _text(required=False, default="")
    reference = _text(required=False, default="")
    behind = BehindSerializer(required=False, allow_null=True, default=None)
    understood = serializers.BooleanField(required=False, default=False)
    window = serializers.DictField(required=False, allow_null=True)


class BenchRun(APIView):
    """Runs a program in a world, as often as it is edited."""

    @extend_schema(request=BenchSerializer, responses=BenchAnswerSerializer)
    def post(self, request: Request) -> HttpResponse:
        """Hints always; the run and the verdicts when the program has no errors and a world is chosen.

        A run that takes too long is stopped, and `world_problem` says so. Raises Replaced when the teacher asked for
        another run in the meantime.
        """
        asked = BenchSerializer(data=request.data, context={"request": request})
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        teacher = teacher_of(request)
        try:
            answer = newest(teacher, bench_json, teacher, values, limit_s=MOST_SECONDS)
        except TookTooLong:
            return Response(self._without_a_run(teacher, values))
        return HttpResponse(answer, content_type="application/json")

    def _without_a_run(self, teacher: int, values: dict[str, Any]) -> dict[str, Any]:
        """What can be said of a program whose run takes too long."""
        plain = {**values, "trace": None, "floor": None, "lasts": None}
        try:
            answer = json.loads(newest(teacher, bench_json, teacher, plain, limit_s=MOST_SECONDS))
        except TookTooLong:
            nothing: dict[str, Any] = {
                "hints": [],
                "thresholds": [],
                "settings": [],
                "checks": [],
                "check_hints": [],
                "understood": [],
            }
            answer = {**nothing, "run": None, "behind": None, "differences": []}
        return {**answer, "world_problem": _TOO_LONG}


class WhySerializer(BenchSerializer):
    """A run of the bench, an output of it and an instant in s."""

    part = serializers.CharField(max_length=100)
    at = serializers.FloatField(min_value=0, max_value=MOST_AT)


class WhyNotSerializer(BenchSerializer):
    """A run of the bench, and a line of its program."""

    line = serializers.IntegerField(min_value=1, max_value=MOST_LINES)


class Why(APIView):
    """Which line set an output, what that line had waited for, and what let it go on."""

    @extend_schema(request=WhySerializer, responses=WhyAnswerSerializer)
    def post(self, request: Request) -> Response:
        """The sentence, with the lines, the instants and the readings that it names."""
        return Response(_told(request, WhySerializer, why_answer))


class WhyNot(APIView):
    """What kept a line from running."""

    @extend_schema(request=WhyNotSerializer, responses=WhyNotAnswerSerializer)
    def post(self, request: Request) -> Response:
        """The sentence, with the line that kept it from that; or when it ran."""
        return Response(_told(request, WhyNotSerializer, why_not_answer))


def _told(request: Request, kind: type[BenchSerializer], work: Any) -> Any:
    asked = kind(data=request.data, context={"request": request})
    asked.is_valid(raise_exception=True)
    teacher = teacher_of(request)
    return in_turn(teacher, work, teacher, asked.validated_data, limit_s=2 * MOST_SECONDS)


class KeepSerializer(WorldSerializer):
    """A run to keep as a trace."""

    rig = OwnedField(queryset=Rig.objects.all())
    text = _text()
    language = serializers.ChoiceField(choices=LANGUAGES, default=NOTATION)
    wordbooks = serializers.ListField(child=KeyField(), required=False, default=list, max_length=20)
    name = serializers.CharField(max_length=100)


class KeepRun(APIView):
    """Keeps what a run read and commanded as a trace, as if it had been recorded."""

    @extend_schema(request=KeepSerializer, responses={201: TraceSerializer})
    def post(self, request: Request) -> Response:
        """The new trace. Raises ProgramError for a program with errors."""
        asked = KeepSerializer(data=request.data, context={"request": request})
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        teacher = teacher_of(request)
        found = in_turn(teacher, kept_run, teacher, values, limit_s=MOST_SECONDS_TO_KEEP)
        if found is None:
            raise serializers.ValidationError({"floor": ["Choose a floor or a trace first."]})
        return Response(TraceSerializer(save_trace(values["rig"], values["name"], found)).data, status=201)
