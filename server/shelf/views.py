"""Rigs, traces and behaviours over HTTP."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.decorators import action
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response

from geduld.recordings.editing import resampled
from geduld.worlds.trace_csv import trace_to_csv
from server.config.apart import in_turn
from server.config.owned import teacher_of
from server.config.versions import Changed
from server.shelf.answers import LanesSerializer
from server.shelf.importing import imported_file
from server.shelf.lanes import STRETCH, lanes, window
from server.shelf.models import Behaviour, Floor, Inputs, Rig, Trace
from server.shelf.on_shelf import OnShelfViewSet
from server.shelf.serializers import (
    BehaviourSerializer,
    FloorSerializer,
    InputsSerializer,
    RevisionSerializer,
    RigSerializer,
    TraceSerializer,
    TraceUploadSerializer,
)
from server.shelf.services import core_rig, drop_doubtful, keep_revision, save_trace
from server.shelf.unpacked import core_trace

MOST_SECONDS = 120.0


class RigViewSet(OnShelfViewSet):
    """The teacher's rigs."""

    queryset = Rig.objects.all()
    serializer_class = RigSerializer
    searched = ("name",)


class TraceViewSet(OnShelfViewSet):
    """The teacher's traces."""

    queryset = Trace.objects.defer("data").all()
    serializer_class = TraceSerializer

    @extend_schema(request={"multipart/form-data": TraceUploadSerializer}, responses={201: TraceSerializer})
    def create(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """Imports a CSV file."""
        upload = TraceUploadSerializer(data=request.data, context=self.get_serializer_context())
        upload.is_valid(raise_exception=True)
        file = upload.validated_data["file"]
        if file.size > settings.MOST_TRACE_BYTES:
            limit = settings.MOST_TRACE_BYTES // 1_000_000
            raise ValidationError({"file": [f"The file has more than {limit} MB. Cut the recording up."]})
        name = upload.validated_data["name"] or file.name.removesuffix(".csv")
        rig = upload.validated_data["rig"]
        # A large file lies on the disk already: its bytes need not go through here.
        source = Path(file.temporary_file_path()) if hasattr(file, "temporary_file_path") else file.read()
        found = in_turn(teacher_of(request), imported_file, source, rig.source, file.name, limit_s=MOST_SECONDS)
        trace = save_trace(rig, name, found)
        return Response(TraceSerializer(trace).data, status=201)

    @extend_schema(request=None, responses=TraceSerializer)
    @action(detail=True, methods=["post"], url_path="drop-doubtful")
    def drop_doubtful(self, request: Request, pk: str | None = None) -> Response:
        """Makes the values that cannot be absent."""
        return Response(TraceSerializer(drop_doubtful(self.get_object())).data)

    @extend_schema(
        parameters=STRETCH,
        responses=LanesSerializer,
    )
    @action(detail=True)
    def lanes(self, request: Request, pk: str | None = None) -> Response:
        """The readings as lanes to draw."""
        trace = self.get_object()
        rig, core = core_rig(trace.rig), core_trace(trace)
        start, stop, columns = window(request.query_params, core.duration_us)
        return Response({"from": start / 1e6, "to": stop / 1e6, "lanes": lanes(core, rig, start, stop, columns)})

    @extend_schema(
        parameters=[OpenApiParameter("rate", float, description="samples a second (default: as recorded)")],
        responses={(200, "text/csv"): str},
    )
    @action(detail=True)
    def csv(self, request: Request, pk: str | None = None) -> HttpResponse:
        """The trace as a CSV file, as it was recorded or at another rate."""
        trace = self.get_object()
        core = core_trace(trace)
        asked = request.query_params.get("rate")
        try:
            core = resampled(core, float(asked)) if asked else core
        except ValueError:
            raise ValidationError({"rate": ["The rate is a number, in Hz."]}) from None
        text = trace_to_csv(core, core_rig(trace.rig))
        headers = {"Content-Disposition": f'attachment; filename="trace-{trace.pk}.csv"'}
        return HttpResponse(text, content_type="text/csv; charset=utf-8", headers=headers)


class FloorViewSet(OnShelfViewSet):
    """The teacher's floors."""

    queryset = Floor.objects.all()
    serializer_class = FloorSerializer
    searched = ("name",)


class InputsViewSet(OnShelfViewSet):
    """What the teacher's hands did in tests."""

    queryset = Inputs.objects.select_related("rig")
    serializer_class = InputsSerializer


class BehaviourViewSet(OnShelfViewSet):
    """The teacher's behaviours."""

    queryset = Behaviour.objects.all()
    serializer_class = BehaviourSerializer
    searched = ("title", "rig__name", "text")

    def update(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """A changed behaviour. A text that came too late is kept among the revisions."""
        try:
            return super().update(request, *args, **kwargs)
        except Changed as changed:
            keep_revision(self.get_object(), changed.mine, apart=True)
            raise

    @extend_schema(responses=RevisionSerializer(many=True))
    @action(detail=True)
    def revisions(self, request: Request, pk: str | None = None) -> Response:
        """The texts to go back to, the newest first."""
        page = self.paginate_queryset(self.get_object().revisions.all())
        return self.get_paginated_response(RevisionSerializer(page, many=True).data)
