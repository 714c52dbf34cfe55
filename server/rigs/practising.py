"""Trials of a rig practised on a made-up robot, over HTTP."""

from __future__ import annotations

import secrets
from dataclasses import asdict

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.calibration.trials import pair, spin
from server.config.apart import in_turn
from server.config.owned import teacher_of
from server.shelf.models import Rig
from server.shelf.services import core_rig

MOST_SECONDS = 20.0


class TrialSerializer(serializers.Serializer):
    """Which motor is tried alone; none where both wheels are."""

    motor = serializers.CharField(max_length=100, required=False, allow_blank=True, default="")


class PractisedSerializer(serializers.Serializer):
    """What was seen, and how the made-up robot is: how far a motor turned (deg), where a pair ended (cm)."""

    turned = serializers.FloatField(allow_null=True)
    power = serializers.IntegerField(allow_null=True)
    wired_round = serializers.BooleanField(allow_null=True)
    way = serializers.FloatField(allow_null=True)
    aside = serializers.FloatField(allow_null=True)
    weaker = serializers.CharField(allow_blank=True)
    share = serializers.FloatField(allow_null=True)


_NOTHING = {"turned": None, "power": None, "wired_round": None, "way": None, "aside": None, "weaker": "", "share": None}


class PractiseView(APIView):
    """The spin test and the pair test, practised."""

    @extend_schema(request=TrialSerializer, responses=PractisedSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """A made-up robot of this rig: perhaps a motor is wired round, or one wheel is weaker than the other."""
        rig = get_object_or_404(Rig, owner=teacher_of(request), pk=pk)
        asked = TrialSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        motor, seed = asked.validated_data["motor"], secrets.randbelow(2**31)
        core = core_rig(rig)
        given = (core, motor, seed) if motor else (core, seed)
        tried = in_turn(teacher_of(request), spin if motor else pair, *given, limit_s=MOST_SECONDS)
        return Response({**_NOTHING, **asdict(tried)})
