"""What recordings and traces answer, for the description of the interface."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.recordings.cells import COMMA, POINT
from geduld.recordings.forms import FORMS, VCD
from geduld.recordings.recipe import ABSENT, HOLD, MARK, STOP, layout_from_json, recipe_from_json
from geduld.recordings.timing import DROP, FILE, SECONDS, SPREAD, ZERO
from server.shelf.answers import LaneSerializer, named, numbers, pair


class LayoutSerializer(serializers.Serializer):
    """How a text is laid out; lines count from 1, and 0 is none."""

    form = serializers.ChoiceField(choices=[*FORMS, VCD])
    delimiter = serializers.CharField(allow_blank=True, trim_whitespace=False)
    decimal = serializers.ChoiceField(choices=[POINT, COMMA])
    grouped = serializers.CharField(allow_blank=True, trim_whitespace=False, help_text="the sign between thousands")
    heading = serializers.IntegerField()
    units = serializers.IntegerField()
    first = serializers.IntegerField()
    comment = serializers.CharField(allow_blank=True)
    stamped = serializers.BooleanField()


class TimingSerializer(serializers.Serializer):
    """How the time is read: from a column, or as so many rows a second."""

    column = serializers.CharField(allow_blank=True)
    unit = serializers.ChoiceField(choices=list(SECONDS))
    date = serializers.CharField(allow_blank=True)
    rate = serializers.FloatField()
    wraps = serializers.FloatField(help_text="where its numbers begin again; 0 where they do not")
    starts = serializers.ChoiceField(choices=[FILE, ZERO])
    equal = serializers.ChoiceField(choices=[DROP, SPREAD])
    day_first = serializers.BooleanField()


class UseSerializer(serializers.Serializer):
    """What a column is used for."""

    column = serializers.CharField()
    channel = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    absent = numbers()
    absent_words = serializers.ListField(child=serializers.CharField(allow_blank=True))
    points = serializers.ListField(child=pair())
    inverted = serializers.BooleanField()


class RecipeDocumentSerializer(serializers.Serializer):
    """How a recording is read, as its file has it."""

    geduld = serializers.ChoiceField(choices=[MARK])
    encoding = serializers.CharField(allow_blank=True)
    layout = LayoutSerializer()
    time = TimingSerializer()
    columns = UseSerializer(many=True)
    bad_rows = serializers.ChoiceField(choices=[STOP, DROP])
    missing = serializers.ChoiceField(choices=[ABSENT, HOLD])


@extend_schema_field(RecipeDocumentSerializer)
class RecipeField(serializers.DictField):
    """A recipe; the core reads it, and its errors go out as they are."""

    def to_internal_value(self, data: Any) -> Any:
        """The document, when the core can read it."""
        source = super().to_internal_value(data)
        recipe_from_json(source)
        return source


@extend_schema_field(LayoutSerializer)
class LayoutField(serializers.DictField):
    """How a text is laid out; the core reads it, and its errors go out as they are."""

    def to_internal_value(self, data: Any) -> Any:
        """The document, when the core can read it."""
        source = super().to_internal_value(data)
        layout_from_json(source)
        return source


class ReasonSerializer(serializers.Serializer):
    """A column of a file: its first cells, and why it is used as it is."""

    name = serializers.CharField()
    sample = serializers.ListField(child=serializers.CharField(allow_blank=True))
    because = serializers.CharField(allow_blank=True)
    words = serializers.BooleanField(help_text="whether its cells are words rather than numbers")


class LineSerializer(serializers.Serializer):
    """One of a file's first lines, and what it was taken for."""

    number = serializers.IntegerField()
    text = serializers.CharField(allow_blank=True)
    role = serializers.ChoiceField(choices=["heading", "units", "comment", "before", "row", "bad", "empty"])


class BadRowSerializer(serializers.Serializer):
    """A row that cannot be used."""

    line = serializers.IntegerField()
    why = serializers.CharField()
    text = serializers.CharField(allow_blank=True)


class CountSerializer(serializers.Serializer):
    """How often something is there."""

    word = serializers.CharField()
    count = serializers.IntegerField()


class AbsentSerializer(serializers.Serializer):
    """Where a channel has no reading, by what stands there."""

    channel = serializers.CharField()
    codes = CountSerializer(many=True)


class OfferSerializer(serializers.Serializer):
    """What a column can be: a channel of the rig, and the units that it can be read in."""

    channel = serializers.CharField()
    kind = serializers.CharField()
    unit = serializers.CharField(allow_blank=True, help_text="the part's own")
    units = serializers.ListField(child=serializers.CharField())
    contact = serializers.BooleanField()


class TroubleSerializer(serializers.Serializer):
    """Why something cannot be read."""

    code = serializers.CharField()
    message = serializers.CharField()
    remedy = serializers.CharField(allow_blank=True)
    row = serializers.IntegerField(allow_null=True)


class UnderstandingSerializer(serializers.Serializer):
    """What a recording was understood as, and the trace that it would become."""

    said = serializers.CharField(help_text="one sentence of what it was understood as")
    recipe = RecipeDocumentSerializer()
    remembered = serializers.BooleanField(help_text="whether the recipe was kept from an earlier file")
    time_because = serializers.CharField(allow_blank=True)
    columns = ReasonSerializer(many=True)
    lines = LineSerializer(many=True)
    offers = OfferSerializer(many=True)
    rows = serializers.IntegerField()
    bad_count = serializers.IntegerField()
    bad_kinds = CountSerializer(many=True)
    bad_rows = BadRowSerializer(many=True)
    absent = AbsentSerializer(many=True)
    held = serializers.IntegerField(help_text="values that a row did not say and that were held")
    doubts = serializers.ListField(child=serializers.CharField())
    problem = TroubleSerializer(allow_null=True)
    samples = serializers.IntegerField()
    duration = serializers.FloatField(help_text="in s")
    rate = serializers.FloatField(allow_null=True, help_text="samples a second")
    lanes = LaneSerializer(many=True)


class ChannelSerializer(serializers.Serializer):
    """One channel in a stretch, in the part's unit; null where there is no reading."""

    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    least = serializers.FloatField(allow_null=True)
    greatest = serializers.FloatField(allow_null=True)
    mean = serializers.FloatField(allow_null=True)
    noise = serializers.FloatField(allow_null=True)
    absent = serializers.FloatField(help_text="the share of samples without a reading, 0 to 1")
    changes = serializers.IntegerField(allow_null=True, help_text="how often it was pressed, or messages came")


class StretchSerializer(serializers.Serializer):
    """A stretch of a trace, in s."""

    start = serializers.FloatField()
    stop = serializers.FloatField()
    samples = serializers.IntegerField()
    rate = serializers.FloatField(allow_null=True)
    gaps = serializers.ListField(child=pair())
    gap_count = serializers.IntegerField()
    channels = ChannelSerializer(many=True)


LevelsSerializer = named(
    "Levels",
    "What readings tell about a threshold, in the part's unit; null where they are not on two levels.",
    {
        "edges": numbers(),
        "counts": serializers.ListField(child=serializers.IntegerField()),
        "noise": serializers.FloatField(),
        "low": serializers.FloatField(allow_null=True),
        "high": serializers.FloatField(allow_null=True),
        "threshold": serializers.FloatField(allow_null=True),
        "slack": serializers.FloatField(allow_null=True),
        "because": serializers.CharField(),
    },
)
