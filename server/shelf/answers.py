"""What the bench and the lanes answer: for the description of the interface, which the web's types are made from."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.binding.terms import SETTINGS
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, OPEN, PART, PASS
from geduld.grading.grade import NOT_READ

VERDICTS = (PASS, PART, FAIL, NOT_EXERCISED, NOT_CERTAIN, NOT_READ)


def named(name: str, description: str, fields: dict[str, Any]) -> type[serializers.Serializer]:
    """A serializer whose fields may have names that Python keeps for itself."""
    kind: type[serializers.Serializer] = type(
        f"{name}Serializer", (serializers.Serializer,), {"__doc__": description, **fields}
    )
    return kind


def numbers(**options: Any) -> serializers.ListField:
    """A list of numbers."""
    return serializers.ListField(child=serializers.FloatField(), **options)


def maybe_numbers() -> serializers.ListField:
    """A list of numbers, null where there is none."""
    return serializers.ListField(child=serializers.FloatField(allow_null=True))


def pair(**options: Any) -> serializers.ListField:
    """Two numbers."""
    return numbers(min_length=2, max_length=2, **options)


class HintSerializer(serializers.Serializer):
    """One message about a text, with its place."""

    code = serializers.CharField()
    level = serializers.ChoiceField(choices=["error", "warning", "advice"])
    line = serializers.IntegerField()
    column = serializers.IntegerField()
    end_line = serializers.IntegerField()
    end_column = serializers.IntegerField()
    message = serializers.CharField()
    remedy = serializers.CharField()
    fix = serializers.CharField(allow_null=True, help_text="the text to put in place of the span, where one is known")


class ThresholdSerializer(serializers.Serializer):
    """A number in a text that a reading is compared with: a handle. Its value is in the part's unit."""

    part = serializers.CharField()
    value = serializers.FloatField()
    unit = serializers.CharField(allow_blank=True)
    per_part_unit = serializers.FloatField(help_text="how many of the text's units one of the part's is")
    zero = serializers.FloatField(help_text="the text's number that stands for nothing")
    line = serializers.IntegerField()
    column = serializers.IntegerField()
    end_column = serializers.IntegerField()


class SettingSerializer(ThresholdSerializer):
    """A number in a text that sets something: an output, how long a step lasts, or the edge of bands.

    Its value is in the part's unit, in s, or, of a way, in the text's own unit.
    """

    what = serializers.ChoiceField(choices=SETTINGS)
    step = serializers.IntegerField(help_text="the line of the step that it belongs to")


@extend_schema_field({"type": "array", "items": {"type": ["string", "null"]}, "x-sometimes": True})
class Messages(serializers.ListField):
    """The messages of a radio; only its lane has them."""


class LaneSerializer(serializers.Serializer):
    """A signal that holds each value until the next time: in s and in the part's unit, null where it is absent."""

    part = serializers.CharField()
    times = numbers()
    values = maybe_numbers()
    texts = Messages(required=False, help_text="the messages of a radio, in place of values")


LanesSerializer = named(
    "Lanes",
    "Signals in a stretch of time, in s.",
    {"from": serializers.FloatField(), "to": serializers.FloatField(), "lanes": LaneSerializer(many=True)},
)
BarSerializer = named(
    "Bar",
    "A stretch, in s, in which a line waited or a loop went round, or in which many did, too short to be seen apart.",
    {
        "line": serializers.IntegerField(),
        "last_line": serializers.IntegerField(help_text="of many the greatest line; else the line"),
        "times": serializers.IntegerField(help_text="how many waits and passes it is"),
        "from": serializers.FloatField(),
        "to": serializers.FloatField(),
        "state": serializers.ChoiceField(choices=["waiting", "looping", "many"]),
        "lane": serializers.CharField(),
    },
)


class RunEventSerializer(serializers.Serializer):
    """Something that happened at one instant (s), and where on a floor (cm)."""

    at = serializers.FloatField()
    kind = serializers.CharField()
    line = serializers.IntegerField()
    text = serializers.CharField(allow_blank=True)
    where = pair(allow_null=True)


class MovedSerializer(serializers.Serializer):
    """Where a thing was, in cm; null where it was not there."""

    x = maybe_numbers()
    y = maybe_numbers()


class RideSerializer(serializers.Serializer):
    """Where the robot was, and the things that were moved: in s, cm and deg."""

    times = numbers()
    x = numbers()
    y = numbers()
    heading = numbers()
    things = serializers.DictField(child=MovedSerializer())


class RestSerializer(serializers.Serializer):
    """Where a load can lie: angles of what motors move, in deg; null where any will do."""

    name = serializers.CharField(allow_blank=True)
    up = serializers.FloatField()
    aside = serializers.FloatField(allow_null=True)


class LoadSerializer(serializers.Serializer):
    """What motors lift on a worktop: its motors, where it can lie, whether it was held (1 or 0), and where it was."""

    name = serializers.CharField()
    lifted_by = serializers.CharField()
    gripped_by = serializers.CharField()
    grips_at = serializers.FloatField(help_text="the angle of the grip at which it is held, in deg")
    aside_by = serializers.CharField(allow_blank=True)
    places = RestSerializer(many=True)
    held = LaneSerializer()
    up = LaneSerializer()
    aside = LaneSerializer(allow_null=True)


_CONTROL = {"type": "string", "enum": ["power", "speed", "brake", "coast"]}


@extend_schema_field(
    {
        "type": "object",
        "additionalProperties": {
            "type": "array",
            "items": {"type": "array", "prefixItems": [{"type": "number"}, _CONTROL], "minItems": 2, "maxItems": 2},
        },
    }
)
class Controls(serializers.DictField):
    """How motors were controlled: by name, from which instant (s) on in which way."""


class PartnerRunSerializer(serializers.Serializer):
    """What the other of two devices did in the same stretch of time."""

    rig = serializers.CharField()
    units = serializers.DictField(child=serializers.CharField(allow_blank=True), help_text="of its lanes, by name")
    readings = LaneSerializer(many=True)
    outputs = LaneSerializer(many=True)
    program = BarSerializer(many=True)
    program_cut = serializers.BooleanField()
    events = RunEventSerializer(many=True)
    controls = Controls()


class RunSerializer(serializers.Serializer):
    """What a program did, in a stretch of time: in s and in the parts' units."""

    ended_at = serializers.FloatField()
    lasted = serializers.FloatField()
    why = serializers.CharField()
    said = serializers.CharField(allow_blank=True)
    outputs = LaneSerializer(many=True)
    lines = LaneSerializer(many=True, help_text="the levels of the controller's lines that were set, in %")
    program = BarSerializer(many=True)
    program_cut = serializers.BooleanField(help_text="whether there are more bars than are told")
    events = RunEventSerializer(many=True)
    controls = Controls()
    trust = serializers.DictField(child=serializers.FloatField(), help_text="by channel, until when it can be trusted")
    readings = LaneSerializer(many=True, allow_null=True)
    ride = RideSerializer(allow_null=True)
    turned = LaneSerializer(many=True, help_text="how far what motors move had really turned, on a floor, in deg")
    loads = LoadSerializer(many=True)
    angles = LaneSerializer(many=True, help_text="where servos and steppers really stood, on a floor")
    partner = PartnerRunSerializer(allow_null=True)


WindowSerializer = named(
    "Window",
    "A stretch of a run, in s, in which a check was tested.",
    {
        "from": serializers.FloatField(),
        "to": serializers.FloatField(),
        "verdict": serializers.ChoiceField(choices=(PASS, FAIL, NOT_CERTAIN, OPEN)),
        "label": serializers.CharField(
            allow_blank=True, help_text="which one it is, where the check names its stretches"
        ),
        "due": serializers.FloatField(allow_null=True, help_text="when it should have ended, where that is known"),
    },
)


class JudgedSerializer(serializers.Serializer):
    """How a check came out, and why."""

    verdict = serializers.ChoiceField(choices=VERDICTS)
    points = serializers.FloatField()
    of = serializers.FloatField()
    margin = serializers.FloatField(allow_null=True)
    unit = serializers.CharField(allow_blank=True)
    because = serializers.CharField()


class VerdictSerializer(JudgedSerializer):
    """What a check says of a run; `at` in s."""

    title = serializers.CharField()
    at = serializers.FloatField(allow_null=True)
    windows = WindowSerializer(many=True)


class WorldProblemSerializer(serializers.Serializer):
    """Why a program cannot be run in a world, and what to do."""

    message = serializers.CharField()
    remedy = serializers.CharField(allow_blank=True)


class UnderstoodLineSerializer(serializers.Serializer):
    """A line of a student's program as it was understood, and how far it is indented."""

    line = serializers.IntegerField()
    level = serializers.IntegerField()
    text = serializers.CharField()


DifferenceSerializer = named(
    "Difference",
    "A stretch, in s, in which an output is otherwise than in the run that is drawn behind.",
    {
        "part": serializers.CharField(),
        "from": serializers.FloatField(),
        "to": serializers.FloatField(),
        "words": serializers.CharField(),
    },
)


class BenchAnswerSerializer(serializers.Serializer):
    """What the bench says of a program."""

    hints = HintSerializer(many=True)
    thresholds = ThresholdSerializer(many=True)
    settings = SettingSerializer(many=True)
    run = RunSerializer(allow_null=True)
    behind = LaneSerializer(many=True, allow_null=True, help_text="what the program that is drawn behind commanded")
    differences = DifferenceSerializer(many=True, help_text="where that is otherwise than here, the first ones")
    checks = VerdictSerializer(many=True)
    check_hints = HintSerializer(many=True)
    world_problem = WorldProblemSerializer(allow_null=True)
    understood = UnderstoodLineSerializer(many=True)


class SeenSerializer(serializers.Serializer):
    """A reading at an instant: in the part's unit, null where it is absent or a text, and in words."""

    part = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    words = serializers.CharField()


WaitedSerializer = named(
    "Waited",
    "A wait that ended, in s.",
    {"line": serializers.IntegerField(), "from": serializers.FloatField(), "to": serializers.FloatField()},
)


class WhyAnswerSerializer(serializers.Serializer):
    """Why an output is as it is: since when (s), which line set it (0 for none), and what let that line go on."""

    part = serializers.CharField()
    at = serializers.FloatField()
    line = serializers.IntegerField()
    waited = WaitedSerializer(allow_null=True)
    readings = SeenSerializer(many=True)
    because = serializers.CharField()


class WhyNotAnswerSerializer(serializers.Serializer):
    """Why a line did not run: the line that kept it from that (0 for none), and from when on (s)."""

    ran = serializers.BooleanField()
    line = serializers.IntegerField()
    at = serializers.FloatField()
    because = serializers.CharField()


class RecordingSerializer(serializers.Serializer):
    """A recorded run, and what the checks say of it."""

    run = RunSerializer()
    checks = VerdictSerializer(many=True)


class MountSerializer(serializers.Serializer):
    """Where a sensor sits, ahead and to the left of the middle of the axle: in cm and deg."""

    ahead = serializers.FloatField()
    left = serializers.FloatField()
    facing = serializers.FloatField(allow_null=True)
    cone = serializers.FloatField()
    spot = serializers.FloatField()
    rail = pair()
    on = serializers.CharField(allow_blank=True, help_text="the motor at which a limit switch or a current sensor sits")
    closes = pair(help_text="between which angles of it a limit switch is pressed, in deg")


class RigShapeSerializer(serializers.Serializer):
    """The robot seen from above, in cm. Without an outline it is round."""

    outline = serializers.ListField(child=pair())
    radius = serializers.FloatField()
    wheel_diameter = serializers.FloatField(allow_null=True)
    track_width = serializers.FloatField(allow_null=True)
    mounts = serializers.DictField(child=MountSerializer())
