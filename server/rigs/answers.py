"""What measurements answer, for the description of the interface."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.calibration.measurements import BY_ENCODER, BY_TIME, MOVES, sheet_from_json


@extend_schema_field({"type": "string", "x-sometimes": True})
class SometimesText(serializers.CharField):
    """A text that only some moves have."""


@extend_schema_field({"type": "boolean", "x-sometimes": True})
class SometimesYes(serializers.BooleanField):
    """A yes or no that only some moves have."""


class MeasurementSerializer(serializers.Serializer):
    """One move and what was measured, with units; `amount` of a move by encoder, `time` of one by time."""

    move = serializers.ChoiceField(choices=MOVES)
    by = serializers.ChoiceField(choices=[BY_TIME, BY_ENCODER])
    power = serializers.CharField()
    amount = SometimesText(required=False)
    time = SometimesText(required=False)
    measured = SometimesText(required=False)
    sideways = SometimesText(required=False)
    kept_out = SometimesYes(required=False)
    note = SometimesText(required=False)


@extend_schema_field({"type": "object", "additionalProperties": {}})
class SheetField(serializers.JSONField):
    """A sheet; the core reads it, and its errors go out as they are."""

    def to_internal_value(self, data: Any) -> Any:
        """The document, when the core can read it."""
        source = super().to_internal_value(data)
        sheet_from_json(source)
        return source


class FindingSerializer(serializers.Serializer):
    """One thing that was found out; `low` and `high` are null where nothing tells them."""

    word = serializers.CharField()
    value = serializers.FloatField()
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    unit = serializers.CharField()
    rig_says = serializers.FloatField(allow_null=True)
    sentence = serializers.CharField()
    applicable = serializers.BooleanField(help_text="whether a rig can say it")


class ResidualSerializer(serializers.Serializer):
    """A measured move beside what the fit says."""

    row = serializers.IntegerField()
    expected = serializers.FloatField()
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    inside = serializers.BooleanField()


class FollowingSerializer(serializers.Serializer):
    """A move to measure next, and how wide the interval would be then, as a share of what it is."""

    row = MeasurementSerializer()
    word = serializers.CharField()
    share = serializers.FloatField()
    sentence = serializers.CharField()


class FindingsSerializer(serializers.Serializer):
    """All that a sheet says. `board` has the arithmetic of each move, line by line."""

    findings = FindingSerializer(many=True)
    residuals = ResidualSerializer(many=True)
    following = FollowingSerializer(allow_null=True)
    board = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))


class SaidSerializer(serializers.Serializer):
    """What a floor measured of one move, in the units of the sheet."""

    measured = serializers.CharField()
    sideways = serializers.CharField(allow_null=True)
    said = serializers.CharField(allow_blank=True)


class MisfitSerializer(serializers.Serializer):
    """The first thing in a behaviour that its rig could not do."""

    behaviour = serializers.IntegerField()
    title = serializers.CharField()
    line = serializers.IntegerField()
    parts = serializers.ListField(child=serializers.CharField(), help_text="that the line names")
    message = serializers.CharField()
    remedy = serializers.CharField(allow_blank=True)


class FieldSerializer(serializers.Serializer):
    """One thing that can be said of a rig or a part: where it stands, its name, its default, why it matters."""

    key = serializers.CharField()
    name = serializers.CharField()
    form = serializers.CharField()
    choices = serializers.ListField(child=serializers.CharField())
    default = serializers.CharField(allow_blank=True)
    why = serializers.CharField(allow_blank=True)


class KindSerializer(serializers.Serializer):
    """A kind of part, and what can be said of one."""

    word = serializers.CharField()
    role = serializers.ChoiceField(choices=["output", "sensor"])
    contact = serializers.BooleanField()
    placed = serializers.BooleanField(help_text="whether it sits somewhere on the robot")
    fields_of = FieldSerializer(many=True)


@extend_schema_field({"type": "object", "additionalProperties": {}})
class RigSource(serializers.JSONField):
    """A rig's description."""


class TemplateSerializer(serializers.Serializer):
    """A rig to start from."""

    name = serializers.CharField()
    source = RigSource()  # type: ignore[assignment]


class RigWordsSerializer(serializers.Serializer):
    """All that can be said of rigs."""

    kinds = KindSerializer(many=True)
    rig = FieldSerializer(many=True)
    templates = TemplateSerializer(many=True)


class ConflictSerializer(serializers.Serializer):
    """Something in a rig that does not hold together."""

    parts = serializers.ListField(child=serializers.CharField())
    path = serializers.CharField(allow_blank=True)
    message = serializers.CharField()
    remedy = serializers.CharField(allow_blank=True)


class ChangeSerializer(serializers.Serializer):
    """One thing that a new name changes."""

    what = serializers.CharField()
    name = serializers.CharField()
    places = serializers.IntegerField()


class RenamingSerializer(serializers.Serializer):
    """All that a new name changes, and what stays and does not go with it any more."""

    changes = ChangeSerializer(many=True)
    staying = serializers.ListField(child=serializers.CharField())
