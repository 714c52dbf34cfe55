"""Measurements of rigs over HTTP, what they say, and what rigs were before."""

from __future__ import annotations

import math
from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.decorators import action
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.calibration.applying import APPLICABLE, applied
from geduld.calibration.board import on_the_board
from geduld.calibration.findings import Finding, Following, findings_of, following_of
from geduld.calibration.measurements import BY_ENCODER, STRAIGHT, Measurement, sheet_from_json
from geduld.calibration.tape import measured_on
from geduld.language.quantities import show
from geduld.rig.reader import rig_from_json
from geduld.worlds.floor.reader import floor_from_json
from server.config.apart import in_turn
from server.config.owned import OwnedField, OwnedViewSet, teacher_of
from server.config.versions import unchanged, version_of
from server.rigs.answers import FindingsSerializer, SaidSerializer, SheetField
from server.rigs.models import Measurements
from server.shelf.depending import what_breaks
from server.shelf.models import Floor, Rig, RigRevision
from server.shelf.serializers import RigSerializer
from server.shelf.services import core_rig, save_rig

MOST_SECONDS = 90.0


class MeasurementsSerializer(serializers.ModelSerializer):
    """A sheet of measurements. `started_from` is the version of it that a change started from."""

    rig = OwnedField(queryset=Rig.objects.all())
    source = SheetField()  # type: ignore[assignment]
    version = serializers.SerializerMethodField()
    started_from = serializers.CharField(required=False, write_only=True, max_length=64)

    class Meta:
        model = Measurements
        fields = ("id", "rig", "source", "updated", "version", "started_from")

    def get_version(self, sheet: Measurements) -> str:
        """Which sheet this is, for changes that start from it."""
        return version_of(sheet.source)

    def save(self, **kwargs: Any) -> Measurements:
        """Raises Changed when it was changed elsewhere in the meantime."""
        started_from = self.validated_data.pop("started_from", None)
        if self.instance is not None:
            unchanged(
                "source", self.validated_data.get("source", self.instance.source), self.instance.source, started_from
            )
        sheet: Measurements = super().save(**kwargs)
        return sheet


class TapeSerializer(serializers.Serializer):
    """The floor that is to measure, and the seed of its chance; null for none."""

    floor = OwnedField(queryset=Floor.objects.all())
    seed = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=0, max_value=2**32 - 1)


class ApplySerializer(serializers.Serializer):
    """What of the findings is to be written into the rig."""

    words = serializers.ListField(child=serializers.ChoiceField(choices=APPLICABLE), min_length=1, max_length=10)


class MeasurementsViewSet(OwnedViewSet):
    """The teacher's sheets of measurements."""

    queryset = Measurements.objects.select_related("rig")
    serializer_class = MeasurementsSerializer

    @extend_schema(responses=FindingsSerializer)
    @action(detail=True)
    def findings(self, request: Request, pk: str | None = None) -> Response:
        """What the sheet says about the rig. Raises InputError for a rig without a drive."""
        row = self.get_object()
        rig, sheet = core_rig(row.rig), sheet_from_json(row.source)
        found = findings_of(sheet, rig)
        following = following_of(sheet)
        told = {
            "findings": [_finding(finding) for finding in found.findings],
            "residuals": [
                {
                    "row": residual.row.place,
                    "expected": residual.expected,
                    "low": _finite(residual.low),
                    "high": _finite(residual.high),
                    "inside": residual.inside,
                }
                for residual in found.residuals
            ],
            "following": None if following is None else _following(following),
            "board": [on_the_board(measured, rig) for measured in sheet.rows],
        }
        return Response(told)

    @extend_schema(request=TapeSerializer, responses=SaidSerializer(many=True))
    @action(detail=True, methods=["post"])
    def tape(self, request: Request, pk: str | None = None) -> Response:
        """What a floor measures of each move of the sheet; nothing is changed."""
        row = self.get_object()
        asked = TapeSerializer(data=request.data, context=self.get_serializer_context())
        asked.is_valid(raise_exception=True)
        given = (asked.validated_data["floor"].source, row.rig.source, row.source, asked.validated_data["seed"])
        return Response(in_turn(teacher_of(request), taped, *given, limit_s=MOST_SECONDS))

    @extend_schema(request=ApplySerializer, responses=RigSerializer)
    @action(detail=True, methods=["post"])
    def apply(self, request: Request, pk: str | None = None) -> Response:
        """Writes findings into the rig, with today's date; what the rig was before stays among its revisions."""
        row = self.get_object()
        asked = ApplySerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        words = asked.validated_data["words"]
        rig, sheet = core_rig(row.rig), sheet_from_json(row.source)
        source = applied(rig, sheet, findings_of(sheet, rig), words, timezone.now().date().isoformat())
        save_changed(
            row.rig, source, f"Calibrated{f' on {sheet.surface}' if sheet.surface else ''}: {', '.join(words)}"
        )
        return Response(RigSerializer(row.rig).data)


def save_changed(rig: Rig, source: dict[str, Any], why: str) -> None:
    """Keeps a rig's new source. Raises ValidationError when something that depends on it would break."""
    breaks = what_breaks(rig, rig_from_json(source))
    if breaks:
        raise serializers.ValidationError({"source": [*breaks, "Change or delete those first."]})
    save_rig(rig, source, why)


def taped(floor: Any, rig: Any, sheet: Any, seed: int | None) -> list[dict[str, Any]]:
    """What a floor measures of a sheet's moves, as JSON. All are JSON sources."""
    made = measured_on(floor_from_json(floor), rig_from_json(rig), sheet_from_json(sheet), seed)
    return [
        {
            "measured": show(row.measured or 0.0, "cm" if row.move == STRAIGHT else "deg"),
            "sideways": None if row.sideways is None else show(row.sideways, "cm"),
            "said": said,
        }
        for row, said in made
    ]


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "word": finding.word,
        "value": finding.found.value,
        "low": _finite(finding.found.low),
        "high": _finite(finding.found.high),
        "unit": finding.unit,
        "rig_says": finding.rig_says,
        "sentence": finding.sentence,
        "applicable": finding.word in APPLICABLE,
    }


def _following(following: Following) -> dict[str, Any]:
    measured = Measurement(following.move, following.by, following.power, following.asked, None, None, False, 0)
    row: dict[str, Any] = {"move": following.move, "by": following.by, "power": show(following.power, "%")}
    unit = "cm" if following.move == STRAIGHT else "deg"
    key, amount = (
        ("amount", show(following.asked, unit)) if following.by == BY_ENCODER else ("time", show(following.asked, "s"))
    )
    row[key] = amount
    words = {STRAIGHT: "A straight move", "turn": "A turn about the middle", "pivot": "A turn about a wheel"}
    said = (
        f"{words[measured.move]} at {row['power']} for {amount} helps the most: the interval of the {following.word}"
        f" would shrink to {show(100 * following.share, '%', 0)} of what it is."
    )
    return {"row": row, "word": following.word, "share": following.share, "sentence": said}


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


class RigRevisionSerializer(serializers.ModelSerializer):
    """What a rig was before a change."""

    class Meta:
        model = RigRevision
        fields = ("id", "why", "saved", "source")


class RigRevisionsView(APIView):
    """What a rig was before."""

    @extend_schema(responses=RigRevisionSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """The newest first."""
        rig = get_object_or_404(Rig, owner=teacher_of(request), pk=pk)
        return Response(RigRevisionSerializer(rig.revisions.all()[:200], many=True).data)


class RigRevisionView(APIView):
    """One of the things that a rig was."""

    @extend_schema(request=None, responses=RigSerializer)
    def post(self, request: Request, pk: int, revision: int) -> Response:
        """The rig becomes what it was; what it is now stays among its revisions."""
        rig = get_object_or_404(Rig, owner=teacher_of(request), pk=pk)
        kept = get_object_or_404(RigRevision, rig=rig, pk=revision)
        save_changed(rig, kept.source, f"Back to what it was on {kept.saved:%d %b %Y, %H:%M}")
        return Response(RigSerializer(rig).data)
