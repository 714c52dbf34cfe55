"""What is done with traces over HTTP: stretches, levels, notes, traces made from traces, drawn ones."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.errors import TraceError
from geduld.language.messages import listed
from geduld.recordings.csvw import metadata
from geduld.recordings.editing import lined_up, merged, shifted, split, trimmed
from geduld.recordings.levels import levels_of
from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.recordings.stretch import stretch_of
from geduld.worlds.trace import Trace as CoreTrace
from server.config.apart import in_turn
from server.config.owned import KeyField, OwnedField, teacher_of
from server.recordings.answers import LevelsSerializer, StretchSerializer
from server.recordings.models import Drawing, Note
from server.shelf.importing import Imported, kept
from server.shelf.lanes import window
from server.shelf.models import Rig, Trace
from server.shelf.serializers import SourceField, TraceSerializer
from server.shelf.services import core_rig, save_trace
from server.shelf.unpacked import core_trace

MOST_SECONDS = 60.0
_STRETCH = [
    OpenApiParameter("from", float, description="start in seconds (default 0)"),
    OpenApiParameter("to", float, description="end in seconds (default the end)"),
]


def _trace(request: Request, pk: int) -> Trace:
    """A trace of the teacher who asks."""
    return get_object_or_404(Trace.objects.defer("data").select_related("rig"), owner=teacher_of(request), pk=pk)


class StretchView(APIView):
    """What a stretch of a trace is like."""

    @extend_schema(parameters=_STRETCH, responses=StretchSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Each channel's least, greatest and mean, its noise, what is missing, and gaps."""
        trace = _trace(request, pk)
        core = core_trace(trace)
        start, stop, _ = window(request.query_params, core.duration_us)
        return Response(StretchSerializer(stretch_of(core, core_rig(trace.rig), start, stop)).data)


class LevelsView(APIView):
    """A threshold for a channel, as its readings suggest it."""

    @extend_schema(parameters=[*_STRETCH, OpenApiParameter("channel", str, required=True)], responses=LevelsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """The histogram, the two levels, a threshold between them, its slack, and why."""
        trace = _trace(request, pk)
        core, rig = core_trace(trace), core_rig(trace.rig)
        start, stop, _ = window(request.query_params, core.duration_us)
        name = request.query_params.get("channel", "")
        if name not in core.channels or name not in rig.channels:
            raise TraceError("unknown-channel", f'The trace has no "{name}".', f"It has {listed(core.channels)}.")
        inside = (core.times >= start) & (core.times <= stop)
        return Response(LevelsSerializer(levels_of(core.channels[name][inside], rig.channels[name])).data)


class NoteSerializer(serializers.ModelSerializer):
    """What was written to a moment of a trace; `at` is in s."""

    at = serializers.FloatField(min_value=0, max_value=1_000_000)

    class Meta:
        model = Note
        fields = ("id", "at", "text")

    def to_representation(self, note: Note) -> dict[str, Any]:
        """The note as JSON."""
        return {"id": note.pk, "at": note.at_us / 1e6, "text": note.text}


class NotesView(APIView):
    """Notes on moments of a trace."""

    @extend_schema(responses=NoteSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """All of them, by time."""
        return Response(NoteSerializer(_trace(request, pk).notes.all(), many=True).data)

    @extend_schema(request=NoteSerializer, responses={201: NoteSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """A new one."""
        asked = NoteSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        at_us = round(asked.validated_data["at"] * 1e6)
        note = Note.objects.create(trace=_trace(request, pk), at_us=at_us, text=asked.validated_data["text"])
        return Response(NoteSerializer(note).data, status=201)


class NoteView(APIView):
    """One note on a moment of a trace."""

    def _note(self, request: Request, pk: int, note: int) -> Note:
        return get_object_or_404(Note, trace=_trace(request, pk), pk=note)

    @extend_schema(request=NoteSerializer, responses=NoteSerializer)
    def patch(self, request: Request, pk: int, note: int) -> Response:
        """Another text, or another moment."""
        row = self._note(request, pk, note)
        asked = NoteSerializer(data=request.data, partial=True)
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        row.text = values.get("text", row.text)
        row.at_us = round(values["at"] * 1e6) if "at" in values else row.at_us
        row.save()
        return Response(NoteSerializer(row).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int, note: int) -> Response:
        """Deletes it."""
        self._note(request, pk, note).delete()
        return Response(status=204)


CUT, SPLIT, MOVE, MERGE = "cut", "split", "move", "merge"


class MakeSerializer(serializers.Serializer):
    """How a trace is made from another; times are in s. The one that it is made from stays.

    `cut` takes what lies from `start` to `stop`; `split` makes two at `at`; `move` makes it later by `by`; `merge` lays
    the trace `other` beside it, moved by `by`, or so that the first events of `channel` and `other_channel` fall
    together.
    """

    how = serializers.ChoiceField(choices=[CUT, SPLIT, MOVE, MERGE])
    name = serializers.CharField(max_length=100, required=False, allow_blank=True, default="")
    start = serializers.FloatField(required=False, default=0.0, min_value=0, max_value=1e6)
    stop = serializers.FloatField(required=False, default=1e6, min_value=0, max_value=1e6)
    at = serializers.FloatField(required=False, default=0.0, min_value=0, max_value=1e6)
    by = serializers.FloatField(required=False, default=0.0, min_value=-1e6, max_value=1e6)
    other = KeyField(required=False, allow_null=True, default=None)
    channel = serializers.CharField(required=False, allow_blank=True, default="", max_length=200)
    other_channel = serializers.CharField(required=False, allow_blank=True, default="", max_length=200)


class MakeView(APIView):
    """Traces made from a trace."""

    @extend_schema(request=MakeSerializer, responses={201: TraceSerializer(many=True)})
    def post(self, request: Request, pk: int) -> Response:
        """The new traces, one or two."""
        trace = _trace(request, pk)
        asked = MakeSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        other = _trace(request, values["other"]) if values["other"] is not None else None
        given = (trace, other, values)
        made = in_turn(teacher_of(request), made_from, *given, limit_s=MOST_SECONDS)
        with transaction.atomic():
            kept_ = [
                save_trace(trace.rig, values["name"] + suffix if values["name"] else f"{trace.name}{ending}", found)
                for found, suffix, ending in made
            ]
        return Response(TraceSerializer(kept_, many=True).data, status=201)


def made_from(trace: Trace, other: Trace | None, values: dict[str, Any]) -> list[tuple[Imported, str, str]]:
    """What is made from a trace: each with what is added to a name that was given, and to the trace's own.

    Raises TraceError where nothing can be made.
    """
    core, rig = core_trace(trace), core_rig(trace.rig)
    how = values["how"]
    start, stop, at, by = (round(values[key] * 1e6) for key in ("start", "stop", "at", "by"))
    if how == CUT:
        found = [(trimmed(core, start, min(stop, core.duration_us)), "", ", a part")]
    elif how == SPLIT:
        before, after = split(core, at)
        found = [(before, ", first part", ", first part"), (after, ", second part", ", second part")]
    elif how == MOVE:
        found = [(shifted(core, by), "", ", moved")]
    elif other is None:
        raise TraceError("unknown-trace", "There is no other trace to merge with.", "Choose one.")
    else:
        found = [(_merged(core, core_trace(other), values, by, rig), "", f" with {other.name}")]
    return [(kept(made, rig), suffix, ending) for made, suffix, ending in found]


def _merged(core: CoreTrace, other: CoreTrace, values: dict[str, Any], by: int, rig: Any) -> CoreTrace:
    if values["channel"]:
        by = lined_up(core, values["channel"], other, values["other_channel"] or values["channel"], rig)
    # what both have is taken from the first one
    rest = {name: found for name, found in other.channels.items() if name not in core.channels}
    if not rest:
        message = "The other trace has nothing that this one has not."
        raise TraceError("channel-twice", message, "Choose a trace with other channels.")
    return merged(core, CoreTrace(other.times, rest, other.texts), rig, by)


class MetadataView(APIView):
    """What stands in a trace's CSV file."""

    @extend_schema(responses={(200, "application/csvm+json"): dict})
    def get(self, request: Request, pk: int) -> Response:
        """The metadata as CSV on the Web has it, with the notes."""
        trace = _trace(request, pk)
        notes = [(note.at_us / 1e6, note.text) for note in trace.notes.all()]
        file = f"trace-{trace.pk}.csv"
        told = metadata(core_trace(trace), core_rig(trace.rig), file, trace.name, notes)
        headers = {"Content-Disposition": f'attachment; filename="{file}-metadata.json"'}
        return Response(told, content_type="application/csvm+json", headers=headers)


class DrawSerializer(serializers.Serializer):
    """A drawn trace: the rig it is for, what it is called, and its points and seed."""

    rig = OwnedField(queryset=Rig.objects.all())
    name = serializers.CharField(max_length=100)
    source = SourceField()  # type: ignore[assignment]


class DrawnSerializer(serializers.Serializer):
    """What a trace was drawn from."""

    source = SourceField(allow_null=True)  # type: ignore[assignment]


def drawn(source: Any, rig: Any) -> Imported:
    """The trace that a drawing is. `rig` is a rig's row. Raises TraceError with the path."""
    core = core_rig(rig)
    return kept(drawn_trace(sketch_from_json(source, core)), core)


class DrawView(APIView):
    """New drawn traces."""

    @extend_schema(request=DrawSerializer, responses={201: TraceSerializer})
    def post(self, request: Request) -> Response:
        """The new trace."""
        asked = DrawSerializer(data=request.data, context={"request": request})
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        found = in_turn(teacher_of(request), drawn, values["source"], values["rig"], limit_s=MOST_SECONDS)
        with transaction.atomic():
            trace = save_trace(values["rig"], values["name"], found)
            Drawing.objects.create(trace=trace, source=values["source"])
        return Response(TraceSerializer(trace).data, status=201)


class DrawingView(APIView):
    """The points and the seed of a drawn trace."""

    @extend_schema(responses=DrawnSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What it was drawn from; null for a trace that was recorded."""
        drawing = Drawing.objects.filter(trace=_trace(request, pk)).first()
        return Response({"source": drawing.source if drawing else None})

    @extend_schema(request=DrawnSerializer, responses=TraceSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Draws it anew, from other points or another seed."""
        trace = _trace(request, pk)
        asked = DrawnSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        drawing = get_object_or_404(Drawing, trace=trace)
        found = in_turn(teacher_of(request), drawn, asked.validated_data["source"], trace.rig, limit_s=MOST_SECONDS)
        with transaction.atomic():
            for key, value in vars(found).items():
                setattr(trace, key, value)
            trace.save()
            drawing.source = asked.validated_data["source"]
            drawing.save()
        return Response(TraceSerializer(trace).data)
