"""Rigs, traces and behaviours as JSON."""

from __future__ import annotations

import json
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.language.quantities import TEXT
from geduld.language.source import MOST_TEXT_BYTES
from geduld.rig.kinds import FOLLOWS
from geduld.rig.model import Part
from geduld.rig.model import Rig as CoreRig
from geduld.rig.physics import Mount
from geduld.rig.reader import rig_from_json
from geduld.worlds.floor.reader import floor_from_json
from server.config.owned import OwnedField
from server.config.rows import BrokenRow
from server.config.versions import unchanged, version_of
from server.shelf.answers import RigShapeSerializer, pair
from server.shelf.depending import what_breaks
from server.shelf.doings import DoingsField, doings_csv, doings_of
from server.shelf.models import Behaviour, Floor, Inputs, Revision, Rig, Trace
from server.shelf.on_shelf import SHELF_FIELDS, OnShelfSerializer
from server.shelf.services import core_rig, libraries_by_rig, save_rig, save_text, titled

MOUNT_KEYS = ("ahead", "left", "facing", "cone", "spot", "rail", "on", "closes")


class PartSerializer(serializers.Serializer):
    """One part of a rig, or a property of one that can be read."""

    name = serializers.CharField()
    kind = serializers.CharField()
    role = serializers.ChoiceField(choices=["output", "sensor"])
    port = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    contact = serializers.BooleanField()
    says = serializers.BooleanField(help_text="whether its reading is a text")
    encoder = serializers.BooleanField(help_text="whether its turning is measured")
    follows = serializers.ChoiceField(choices=FOLLOWS, help_text="what its reading follows")
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    axes = serializers.ListField(child=serializers.CharField(), help_text="the directions it is read along")
    keys = serializers.ListField(child=serializers.CharField(), help_text="of a remote control")
    turns = serializers.BooleanField(
        help_text="whether it turns something: a motor that is no wheel, a servo, a stepper"
    )
    raw = pair(allow_null=True, help_text="the converter's own numbers at `low` and at `high`, where it has some")
    stops = pair(allow_null=True, help_text="the end stops of what a motor moves, in deg")


class RigSerializer(BrokenRow, OnShelfSerializer):
    """A rig, with its parts as the core understands them."""

    in_place = {  # noqa: RUF012
        "parts": [], "properties": [], "libraries": [], "exclusive": [], "has_drive": False,
        "drive_is_measured": False, "drive_is_timed": False,
        "shape": {"outline": [], "radius": 0.0, "wheel_diameter": None, "track_width": None, "mounts": {}},
    }  # fmt: skip
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")

    name = serializers.CharField(read_only=True)
    parts = serializers.SerializerMethodField()
    properties = serializers.SerializerMethodField()
    libraries = serializers.SerializerMethodField()
    exclusive = serializers.SerializerMethodField()
    has_drive = serializers.SerializerMethodField()
    drive_is_measured = serializers.SerializerMethodField()
    drive_is_timed = serializers.SerializerMethodField()
    shape = serializers.SerializerMethodField()
    version = serializers.SerializerMethodField()
    started_from = serializers.CharField(required=False, write_only=True, max_length=64)

    class Meta:
        model = Rig
        fields = ("id", "name", "source", "parts", "properties", "libraries", "has_drive", "drive_is_measured",
            "drive_is_timed", "shape", "exclusive", "updated", "broken", "version", "started_from", *SHELF_FIELDS,
        )  # fmt: skip

    def validate_source(self, source: Any) -> Any:
        """The core reads the rig; its errors go out as they are. What depends on it is looked at before it changes."""
        core = rig_from_json(source)
        breaks = what_breaks(self.instance, core) if self.instance is not None else []
        if breaks:
            raise serializers.ValidationError([*breaks, "Change or delete those first."])
        return source

    def create(self, values: dict[str, Any]) -> Rig:
        """The rig is called what its source says."""
        values.pop("started_from", None)
        return Rig.objects.create(name=values["source"]["name"][:100], **values)

    def update(self, rig: Rig, values: dict[str, Any]) -> Rig:
        """The rig is called what its source says."""
        source = values.get("source", rig.source)
        unchanged("source", source, rig.source, values.get("started_from"))
        save_rig(rig, source)
        return rig

    def get_version(self, rig: Rig) -> str:
        """Which rig this is, for changes that start from it."""
        return version_of(rig.source)

    @extend_schema_field(PartSerializer(many=True))
    def get_parts(self, rig: Rig) -> list[dict[str, Any]]:
        """The parts in the order of the description."""
        core = core_rig(rig)
        return [part_as_json(part, core) for part in core.parts.values()]

    @extend_schema_field(PartSerializer(many=True))
    def get_properties(self, rig: Rig) -> list[dict[str, Any]]:
        """What else can be read of the parts: `left.angle`, `nose.presses`."""
        core = core_rig(rig)
        return [part_as_json(part, core) for name, part in core.channels.items() if name not in core.parts]

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_libraries(self, rig: Rig) -> list[str]:
        """The libraries that programs for this rig may include."""
        # Read once for all rigs of a list. DRF's own context is a dict, whatever its type says.
        found = self.context.setdefault("libraries of rigs", {})  # type: ignore[attr-defined]
        if rig.owner_id not in found:
            found[rig.owner_id] = libraries_by_rig(rig.owner_id)
        titles: list[str] = found[rig.owner_id].get(rig.pk, [])
        return titles

    def get_drive_is_measured(self, rig: Rig) -> bool:
        """Whether both its wheels have encoders."""
        return core_rig(rig).drive_is_measured

    def get_drive_is_timed(self, rig: Rig) -> bool:
        """Whether it is known how fast both its wheels turn."""
        return core_rig(rig).drive_is_timed

    def get_has_drive(self, rig: Rig) -> bool:
        """Whether it has a wheel pair."""
        return core_rig(rig).drive is not None

    @extend_schema_field(serializers.ListField(child=serializers.ListField(child=serializers.CharField())))
    def get_exclusive(self, rig: Rig) -> list[list[str]]:
        """Groups of contacts of which the hardware can read only one at a time."""
        return [list(group) for group in core_rig(rig).exclusive]

    @extend_schema_field(RigShapeSerializer)
    def get_shape(self, rig: Rig) -> dict[str, Any]:
        """The body, the wheels and where the sensors sit, to be drawn: in cm and deg, ahead and to the left."""
        core = core_rig(rig)
        body = core.physics.body
        return {
            "outline": body.outline,
            "radius": body.radius,
            "wheel_diameter": core.drive.wheel_diameter if core.drive else None,
            "track_width": core.drive.track_width if core.drive else None,
            "mounts": {
                name: {key: getattr(mount, key) for key in MOUNT_KEYS}
                for name, mount in ((name, core.physics.mounts.get(name, Mount())) for name in core.parts)
            },
        }


def part_as_json(part: Part, rig: CoreRig) -> dict[str, Any]:
    """A part of a rig, or a property of one, in the form of `PartSerializer`."""
    physics = rig.physics.motor(part.name)
    return {
        "name": part.name,
        "kind": part.kind.word,
        "role": part.kind.role,
        "port": part.port,
        "unit": part.unit_word,
        "contact": part.kind.is_contact,
        "says": part.dimension == TEXT,
        "encoder": part.counts_per_turn is not None,
        "follows": part.follows,
        "low": part.unit.from_base(part.low) if part.low is not None and part.unit else part.low,
        "high": part.unit.from_base(part.high) if part.high is not None and part.unit else part.high,
        "axes": list(part.kind.axes),
        "keys": list(part.keys),
        "turns": part.kind.positions or part.name in rig.dials,
        "stops": physics.stops,
        "raw": part.raw,
    }


@extend_schema_field({"type": "object", "additionalProperties": {}})
class SourceField(serializers.JSONField):
    """A description as JSON, as its file has it."""


class FloorSerializer(OnShelfSerializer):
    """A floor; it is called what its source says. `started_from` is the version of it that a change started from."""

    source = SourceField()  # type: ignore[assignment]
    name = serializers.CharField(read_only=True)
    version = serializers.SerializerMethodField()
    started_from = serializers.CharField(required=False, write_only=True, max_length=64)

    class Meta:
        model = Floor
        fields = ("id", "name", "source", "updated", "version", "started_from", *SHELF_FIELDS)

    def get_version(self, floor: Floor) -> str:
        """Which floor this is, for changes that start from it."""
        return version_of(floor.source)

    def validate_source(self, source: Any) -> Any:
        """The core reads the floor; its errors go out as they are."""
        floor_from_json(source)
        return source

    def save(self, **kwargs: Any) -> Floor:
        """Keeps the name beside the source. Raises Changed when it was changed elsewhere in the meantime."""
        started_from = self.validated_data.pop("started_from", None)
        kept = self.instance
        source = self.validated_data["source"] if kept is None else self.validated_data.get("source", kept.source)
        if kept is not None:
            unchanged("source", source, kept.source, started_from)
        floor: Floor = super().save(name=source["name"][:100], **kwargs)
        return floor


class InputsSerializer(BrokenRow, OnShelfSerializer):
    """What hands did in a test: told as doings, kept as CSV."""

    in_place = {"doings": []}  # noqa: RUF012
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")

    rig = OwnedField(queryset=Rig.objects.all())
    doings = DoingsField()
    text = serializers.CharField(read_only=True)

    class Meta:
        model = Inputs
        fields = ("id", "rig", "name", "doings", "text", "updated", "broken", *SHELF_FIELDS)

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """The core reads what will be kept; its errors go out as they are."""
        kept = self.instance
        rig = core_rig(values["rig"] if kept is None else values.get("rig", kept.rig))
        if "doings" in values:
            values["text"] = doings_csv(values.pop("doings"), rig)
        doings_of(values.get("text", "" if kept is None else kept.text), rig)
        return values


class TraceSerializer(OnShelfSerializer):
    """A trace without its samples. The rig is fixed at import."""

    channels = serializers.ListField(child=serializers.CharField(), read_only=True)
    doubts = serializers.ListField(
        child=serializers.CharField(), read_only=True, help_text="sentences about values that cannot be"
    )

    class Meta:
        model = Trace
        fields = ("id", "rig", "name", "channels", "samples", "duration_us", "doubts", "updated", *SHELF_FIELDS)
        read_only_fields = ("rig", "channels", "samples", "duration_us")


class TraceUploadSerializer(serializers.Serializer):
    """A CSV file to import as a trace of a rig."""

    rig = OwnedField(queryset=Rig.objects.all())
    name = serializers.CharField(max_length=100, required=False, default="")
    file = serializers.FileField(allow_empty_file=True)


class BehaviourSerializer(OnShelfSerializer):
    """A behaviour. Changing its text keeps a revision; it is called what its text says.

    `started_from` is the version of the text that a change started from: another one is not replaced.
    """

    rig = OwnedField(queryset=Rig.objects.all())
    text = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, required=False)
    world = serializers.DictField(required=False)
    version = serializers.SerializerMethodField()
    started_from = serializers.CharField(required=False, write_only=True, max_length=64)

    class Meta:
        model = Behaviour
        fields = ("id", "rig", "title", "text", "world", "updated", "version", "started_from", *SHELF_FIELDS)

    def get_version(self, behaviour: Behaviour) -> str:
        """Which text this is, for changes that start from it."""
        return version_of(behaviour.text)

    def validate_world(self, world: dict[str, Any]) -> dict[str, Any]:
        """What the bench ran in: it is kept as it is, and so has a bound."""
        if len(json.dumps(world)) > MOST_TEXT_BYTES:
            raise serializers.ValidationError(f"A world has at most {MOST_TEXT_BYTES:,} bytes.")
        return world

    def create(self, values: dict[str, Any]) -> Behaviour:
        """The first text is the first revision."""
        values.pop("started_from", None)
        behaviour: Behaviour = super().create(values)
        save_text(behaviour, behaviour.text)
        return behaviour

    def update(self, behaviour: Behaviour, values: dict[str, Any]) -> Behaviour:
        """Keeps the text and its revision. Raises Changed when it was changed elsewhere in the meantime."""
        started_from, before = values.pop("started_from", None), behaviour.text
        if "text" in values:
            unchanged("text", values["text"], before, started_from)
            values["title"] = titled(values["text"], values.get("title", behaviour.title))
        behaviour = super().update(behaviour, values)
        save_text(behaviour, behaviour.text, before)
        return behaviour


class RevisionSerializer(serializers.ModelSerializer):
    """A behaviour's text as it was."""

    class Meta:
        model = Revision
        fields = ("id", "text", "saved", "apart")
