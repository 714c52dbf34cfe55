"""Live readings over HTTP: sent by robots and browsers, looked at, recorded, kept as traces."""

from __future__ import annotations

import hashlib
import secrets
import time
from typing import Any

from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.exceptions import NotFound, ParseError
from rest_framework.parsers import BaseParser
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.language.quantities import TEXT
from geduld.language.source import MOST_TEXT_BYTES
from geduld.recordings.recipe import recipe_from_json
from geduld.worlds.packing import pack
from server.config.apart import in_turn, newest
from server.config.owned import teacher_of
from server.live.answers import KeySerializer, LiveSerializer, TakenSerializer
from server.live.feeds import LOST_AFTER_S, Kept, feed_of, take
from server.live.models import LiveKey
from server.live.playing import played_json
from server.recordings.answers import RecipeField, UnderstandingSerializer
from server.recordings.understanding import understanding_of_bytes
from server.shelf.answers import BenchAnswerSerializer
from server.shelf.importing import kept as imported
from server.shelf.models import Rig
from server.shelf.serializers import TraceSerializer
from server.shelf.services import core_rig, save_trace

MOST_BYTES = 2_000_000
MOST_SECONDS = 30.0
MOST_SECONDS_PLAYED = 5.0


class Lines(BaseParser):
    """Lines of text, however they are named."""

    media_type = "*/*"

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """The lines that were sent. Raises ParseError for more than one request may hold."""
        data = stream.read(MOST_BYTES + 1)
        if len(data) > MOST_BYTES:
            raise ParseError("These are too many lines for one request. Send fewer at once.")
        return data.decode("utf-8", "replace").splitlines()


class Incoming(APIView):
    """Where robots send their lines to, with the key of their rig."""

    authentication_classes: list[Any] = []  # noqa: RUF012
    permission_classes = [AllowAny]  # noqa: RUF012
    parser_classes = [Lines]  # noqa: RUF012

    @extend_schema(
        parameters=[
            OpenApiParameter("X-Geduld-Key", str, OpenApiParameter.HEADER, required=True),
            OpenApiParameter(
                "X-Geduld-First", int, OpenApiParameter.HEADER, description="the number of the first line, from 0"
            ),
        ],
        request={"application/x-ndjson": OpenApiTypes.STR},
        responses=TakenSerializer,
    )
    def post(self, request: Request) -> Response:
        """Takes lines: JSON, names and values, or CSV, one a line. A wrong key gets nothing."""
        digest = hashlib.sha256(request.headers.get("X-Geduld-Key", "").encode()).hexdigest()
        key = LiveKey.objects.select_related("rig").filter(digest=digest).first()
        if key is None:
            raise NotFound
        said = request.headers.get("X-Geduld-First", "")
        first = int(said) if said.isascii() and said.isdigit() and len(said) < 12 else None
        return Response({"taken": take(key.rig, list(request.data), first)})


def _rig(request: Request, pk: int) -> Rig:
    return get_object_or_404(Rig, owner=teacher_of(request), pk=pk)


class LiveView(APIView):
    """What comes from a rig's robot."""

    @extend_schema(responses=LiveSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """The last values, how they behave, and whether something still comes."""
        rig = _rig(request, pk)
        kept = feed_of(rig)
        with kept.lock:
            return Response(_told(kept, rig))


def _told(kept: Kept, rig: Rig) -> dict[str, Any]:
    feed = kept.feed
    silent = time.monotonic() - kept.heard_at if kept.heard_at else None
    return {
        "heard": kept.heard_at > 0,
        "connected": silent is not None and silent < LOST_AFTER_S,
        "silent_for": silent,
        "lines": feed.lines,
        "unread": feed.unread,
        "last_lines": [line.replace("\x00", "�") for line in list(feed.heard)[-4:]],
        "rate": feed.rate,
        "clock": feed.clock,
        "recording": feed.recording,
        "seconds": feed.seconds,
        "has_key": LiveKey.objects.filter(rig=rig).exists(),
        "readings": [
            {
                "name": reading.part.name,
                "unit": reading.part.unit_word,
                "contact": reading.part.kind.is_contact,
                "value": None if reading.part.dimension == TEXT else reading.value,
                "raw": reading.raw,
                "text": feed.text_of(reading.value) if reading.part.dimension == TEXT else None,
                "least": reading.least,
                "greatest": reading.greatest,
                "noise": reading.noise,
                "absent": reading.absent,
                "times": [at for at, _ in reading.strip],
                "values": [value for _, value in reading.strip],
            }
            for reading in feed.readings()
        ],
    }


class PlayedSerializer(serializers.Serializer):
    """A text to be played along, and since which reading of the feed's clock (s)."""

    text = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False)
    since = serializers.FloatField(min_value=0)


class PlayView(APIView):
    """A behaviour played along with what comes."""

    @extend_schema(request=PlayedSerializer, responses=BenchAnswerSerializer)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """What it would command and where it waits, in the last seconds. Raises TraceError where nothing came since."""
        rig = _rig(request, pk)
        asked = PlayedSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        kept = feed_of(rig)
        with kept.lock:
            trace = kept.feed.since(asked.validated_data["since"])
        given = (teacher_of(request), rig.pk, asked.validated_data["text"], pack(trace))
        answer = newest(teacher_of(request), played_json, *given, limit_s=MOST_SECONDS_PLAYED)
        return HttpResponse(answer, content_type="application/json")


RECORD, STOP, FORGET = "record", "stop", "forget"


class DoSerializer(serializers.Serializer):
    """What is to be done with what comes."""

    do = serializers.ChoiceField(choices=[RECORD, STOP, FORGET])


class DoView(APIView):
    """Records what comes, stops that, or forgets what came."""

    @extend_schema(request=DoSerializer, responses=LiveSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """`record` begins a recording anew."""
        rig = _rig(request, pk)
        asked = DoSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        kept = feed_of(rig)
        with kept.lock:
            if asked.validated_data["do"] != STOP:
                kept.feed.forget()
            kept.feed.recording = asked.validated_data["do"] == RECORD
            return Response(_told(kept, rig))


class LiveKeyView(APIView):
    """The key with which a rig's robot sends."""

    @extend_schema(request=None, responses={201: KeySerializer})
    def post(self, request: Request, pk: int) -> Response:
        """A new key; the one before is worth nothing any more."""
        rig = _rig(request, pk)
        key = secrets.token_urlsafe(18)
        LiveKey.objects.update_or_create(rig=rig, defaults={"digest": hashlib.sha256(key.encode()).hexdigest()})
        return Response({"key": key}, status=201)


class CableSerializer(serializers.Serializer):
    """Lines that a browser read from a cable."""

    lines = serializers.ListField(child=serializers.CharField(allow_blank=True, max_length=4_000), max_length=5_000)


class CableView(APIView):
    """Lines that a browser read from a cable."""

    @extend_schema(request=CableSerializer, responses=TakenSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Takes them."""
        rig = _rig(request, pk)
        asked = CableSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        return Response({"taken": take(rig, asked.validated_data["lines"])})


class ReadBySerializer(serializers.Serializer):
    """How lines are read."""

    recipe = RecipeField()


class MeaningView(APIView):
    """What the lines that come are understood as."""

    @extend_schema(responses=UnderstandingSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """The last lines, by the recipe that is used."""
        rig = _rig(request, pk)
        kept = feed_of(rig)
        with kept.lock:
            data, recipe = "\n".join(kept.feed.heard).encode(), kept.feed.recipe
        source = recipe.as_json() if recipe is not None else None
        given = (data, rig.source, source)
        return Response(in_turn(teacher_of(request), understanding_of_bytes, *given, limit_s=MOST_SECONDS))

    @extend_schema(request=ReadBySerializer, responses={204: None}, operation_id="rigs_live_use")
    def post(self, request: Request, pk: int) -> Response:
        """Reads by this recipe from now on."""
        rig = _rig(request, pk)
        asked = ReadBySerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        kept = feed_of(rig)
        with kept.lock:
            kept.feed.use(recipe_from_json(asked.validated_data["recipe"]))
        return Response(status=204)


class KeepReadingsSerializer(serializers.Serializer):
    """What the trace is called."""

    name = serializers.CharField(max_length=100)


class KeepLiveView(APIView):
    """What came becomes a trace."""

    @extend_schema(request=KeepReadingsSerializer, responses={201: TraceSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """The new trace. Raises TraceError where nothing came."""
        rig = _rig(request, pk)
        asked = KeepReadingsSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        kept = feed_of(rig)
        with kept.lock:
            trace = kept.feed.trace()
            kept.feed.recording = False
        with transaction.atomic():
            made = save_trace(rig, asked.validated_data["name"], imported(trace, core_rig(rig)))
        return Response(TraceSerializer(made).data, status=201)
