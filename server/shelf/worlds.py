"""Worlds over HTTP: a trace or a floor, with what hands do in it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import Any

from rest_framework import serializers

from geduld.grading.cases import lasting
from geduld.readers.notation import good_program, runner_for
from geduld.rig.model import Rig as CoreRig
from geduld.rig.reader import rig_from_json
from geduld.run.together import Alone, Link, Partner, TogetherWorld
from geduld.run.world import LONGEST_US, FloorWorld, TraceWorld, TravelWorld, World, bare
from geduld.worlds.floor.faults import read_faults
from geduld.worlds.floor.reader import floor_again
from geduld.worlds.inputs import Inputs, inputs_from_csv
from server.config.owned import OwnedField
from server.shelf.doings import DoingsField, doings_csv
from server.shelf.models import Behaviour, Floor, Trace
from server.shelf.services import core_rig, library_for
from server.shelf.unpacked import core_trace


class FaultsField(serializers.ListField):
    """What is wrong with the robot on a floor, as phrases; see `geduld.worlds.floor.faults`."""

    child = serializers.CharField(max_length=100)


class SituationSerializer(serializers.Serializer):
    """How a world is run in: by time or travel, from which mark, with what hands do, a seed, faults, a limit in s."""

    follow = serializers.ChoiceField(choices=["time", "travel"], required=False, default="time")
    start = serializers.CharField(required=False, allow_blank=True, default="")
    doings = DoingsField(required=False, default=list)
    seed = serializers.IntegerField(required=False, allow_null=True, min_value=0, max_value=2**32 - 1)
    faults = FaultsField(required=False, default=list)
    limit = serializers.FloatField(required=False, allow_null=True, min_value=0.001, max_value=1e6)
    lasts = serializers.FloatField(
        required=False, allow_null=True, min_value=0.001, max_value=600, help_text="nothing but time, so many s of it"
    )
    delay = serializers.FloatField(
        required=False, default=0.02, min_value=0.001, max_value=10, help_text="of a message, in s"
    )
    lost = serializers.FloatField(
        required=False, default=0.0, min_value=0, max_value=100, help_text="% of all messages"
    )


class WorldSerializer(SituationSerializer):
    """A world: a trace or a floor of the teacher's or nothing but time, how it is run in, and who else is there.

    `partner` is a behaviour of another device, which runs in that behaviour's own world.
    """

    trace = OwnedField(queryset=Trace.objects.defer("data"), required=False, allow_null=True)
    floor = OwnedField(queryset=Floor.objects.all(), required=False, allow_null=True)
    partner = OwnedField(queryset=Behaviour.objects.all(), required=False, allow_null=True)


def try_world(rig: Any, values: Mapping[str, Any]) -> None:
    """Raises what keeps a rig, given as its JSON source, from being tried in a world."""
    core_world(rig_from_json(rig), values)


def core_world(rig: CoreRig, values: Mapping[str, Any]) -> World | None:
    """The world that validated values name, with `doings` or with `inputs` as CSV; None when they name none.

    Raises FloorError when the robot cannot start there, TraceError for inputs that are wrong and for a recording
    without its travel, and ProgramError for a partner whose program has errors.
    """
    main = _alone(rig, values)
    if main is None or values.get("partner") is None:
        return main
    link = Link(round(values.get("delay", 0.02) * 1e6), values.get("lost", 0.0) / 100, values.get("seed") or 0)
    return TogetherWorld(main, _partner(values["partner"], main, link))


def _partner(behaviour: Behaviour, main: Alone, link: Link) -> Partner:
    """Another device that runs a behaviour, in that behaviour's own world; in nothing but time where it has none."""
    rig, library = core_rig(behaviour.rig), library_for(behaviour.rig)
    good_program(behaviour.text, rig, library)
    kept = behaviour.world
    places = {
        "floor": Floor.objects.filter(owner=behaviour.owner_id, pk=kept.get("floor")).first(),
        "trace": Trace.objects.defer("data").filter(owner=behaviour.owner_id, pk=kept.get("trace")).first(),
    }
    lasts = {} if any(places.values()) else {"lasts": lasting(main) / 1e6}
    world = _alone(rig, {**kept, **places, **lasts})
    assert world is not None  # nothing but time is a world too
    return Partner(behaviour.title, world, partial(runner_for, behaviour.text, rig, library), behaviour.text, link)


def _alone(rig: CoreRig, values: Mapping[str, Any]) -> Alone | None:
    """The world of one device."""
    limit = round(values["limit"] * 1e6) if values.get("limit") else None
    if values.get("floor") is not None:
        floor = floor_again(values["floor"].source)
        floor = floor.started_from(values["start"]) if values.get("start") else floor
        inputs = _inputs(values, rig, [thing.name for thing in floor.movable])
        faults = read_faults(values.get("faults") or [], rig)
        most = min(limit, LONGEST_US) if limit else None
        return FloorWorld(floor, rig, inputs, values.get("seed"), most, faults).tried()
    if values.get("trace") is not None:
        trace, inputs = core_trace(values["trace"]), _inputs(values, rig, [])
        travels = values.get("follow") == "travel"
        return TravelWorld(trace, rig, inputs, limit).tried() if travels else TraceWorld(trace, rig, inputs, limit)
    if values.get("lasts"):
        return TraceWorld(bare(rig, round(values["lasts"] * 1e6)), rig, _inputs(values, rig, []), limit)
    return None


def _inputs(values: Mapping[str, Any], rig: CoreRig, things: list[str]) -> Inputs:
    text = values.get("inputs") or doings_csv(values.get("doings") or [], rig)
    return inputs_from_csv(text.encode(), rig, things) if text.strip() else Inputs()
