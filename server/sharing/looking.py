"""What a colleague sees by a link, without an account: one exercise, its reference in each case, perhaps the marks."""

from __future__ import annotations

import secrets
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.authentication import SessionAuthentication
from rest_framework.exceptions import NotFound, Throttled
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.checks.judge import judge_all
from geduld.readers.notation import runner_for
from server.accounts.guesses import Guesses
from server.accounts.links import hash_of
from server.classes.answers import PictureSerializer
from server.config.apart import in_turn
from server.exercises.models import Exercise, partner_rig
from server.exercises.serializers import CheckTitleSerializer
from server.exercises.services import core_exercise
from server.exercises.texts import looked_through
from server.marks.answers import SheetSerializer
from server.marks.services import sheet
from server.sharing.models import LookLink
from server.sharing.parcels import ArrivedSerializer, copied, told, zip_answer
from server.shelf.answers import VerdictSerializer
from server.shelf.lanes import lanes
from server.shelf.runs import run_json
from server.shelf.services import library_texts

MOST_SECONDS, COLUMNS = 20.0, 400
wrong = Guesses(most=30)
TOKEN = [OpenApiParameter("X-Geduld-Look", OpenApiTypes.STR, OpenApiParameter.HEADER, required=True)]


def new_link(exercise: Exercise, note: str, marks: bool) -> tuple[LookLink, str]:
    """A link, and its token, which is told this once."""
    token = secrets.token_urlsafe(24)
    return LookLink.objects.create(exercise=exercise, note=note, marks=marks, token_hash=hash_of(token)), token


def _link(request: Request) -> LookLink:
    """The link of the token that came along. Raises NotFound, and Throttled for who guesses."""
    django: HttpRequest = request._request
    address = str(django.META.get("REMOTE_ADDR", ""))
    if wrong.too_many(address):
        raise Throttled(60, "Too many wrong links came from here. Wait a minute, then try again.")
    token = request.headers.get("X-Geduld-Look", "")
    links = LookLink.objects.filter(exercise__trashed__isnull=True)
    found = links.select_related("exercise__rig", "exercise__owner").filter(token_hash=hash_of(token)).first()
    if found is None:
        wrong.note(address)
        raise NotFound("This link opens nothing. It was taken back, or a part of it is missing: ask who sent it.")
    return found


class LookCaseSerializer(serializers.Serializer):
    """A case by its name, and what it is tried in."""

    name = serializers.CharField()
    place = serializers.CharField(help_text="a trace, a floor or nothing but time, by its name")


class LookSerializer(serializers.Serializer):
    """An exercise as a colleague sees it."""

    title = serializers.CharField()
    teacher = serializers.CharField()
    brief = serializers.CharField(allow_blank=True)
    rig = serializers.CharField()
    reference = serializers.CharField(allow_blank=True)
    checks = serializers.CharField(allow_blank=True)
    check_titles = CheckTitleSerializer(many=True)
    cases = LookCaseSerializer(many=True)
    over_cases = serializers.CharField()
    due = serializers.DateTimeField(allow_null=True)
    late_per_day = serializers.FloatField()
    wordbooks = serializers.ListField(child=serializers.CharField())
    marks = serializers.BooleanField(help_text="whether the mark sheet can be seen")


class LookRunSerializer(serializers.Serializer):
    """What the reference does in a case, and what the checks say of it."""

    picture = PictureSerializer()
    checks = VerdictSerializer(many=True)


class OfLinks(APIView):
    """A view for those who have a link: no cookie counts here."""

    authentication_classes: list[Any] = []  # noqa: RUF012
    permission_classes = [AllowAny]  # noqa: RUF012


class LookView(OfLinks):
    """An exercise by a link."""

    @extend_schema(parameters=TOKEN, responses=LookSerializer)
    def get(self, request: Request) -> Response:
        """Its brief, texts, cases and rules."""
        link = _link(request)
        LookLink.objects.filter(pk=link.pk).update(seen=timezone.now())
        return Response(LookSerializer(_looked(link)).data)


class LookRunView(OfLinks):
    """The reference in one case."""

    @extend_schema(
        parameters=[*TOKEN, OpenApiParameter("case", OpenApiTypes.STR, required=True)], responses=LookRunSerializer
    )
    def get(self, request: Request) -> Response:
        """Its run, and the verdicts of all checks."""
        link = _link(request)
        case = request.query_params.get("case", "")
        # a link's runs wait for each other, and for no teacher's
        return Response(in_turn(-link.pk, reference_run, link.exercise_id, case, limit_s=MOST_SECONDS))


class LookSheetView(OfLinks):
    """The mark sheet, where the link shows it."""

    @extend_schema(parameters=TOKEN, responses=SheetSerializer)
    def get(self, request: Request) -> Response:
        """Students by checks."""
        link = _link(request)
        if not link.marks:
            raise NotFound("This link does not show the marks.")
        return Response(sheet(link.exercise))


class LookParcelView(OfLinks):
    """The exercise as a zip, without hand-ins."""

    @extend_schema(parameters=TOKEN, responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """The zip."""
        link = _link(request)
        return zip_answer(-link.pk, link.exercise, False)


class LookCopyView(APIView):
    """A copy on the shelf of the colleague, who must be signed in for it."""

    authentication_classes = [SessionAuthentication]  # noqa: RUF012

    @extend_schema(parameters=TOKEN, request=None, responses={201: ArrivedSerializer})
    def post(self, request: Request) -> Response:
        """Copies the exercise with all it needs, without hand-ins."""
        link = _link(request)
        return Response(told(copied(request, link.exercise)), status=201)


def _looked(link: LookLink) -> dict[str, Any]:
    exercise = link.exercise
    cases = list(exercise.cases.select_related("trace", "floor", "partner__rig").defer("trace__data"))
    titles, _ = looked_through(
        exercise.rig, library_texts(exercise.rig), exercise.reference, exercise.checks, partner_rig(cases)
    )
    owner = exercise.owner
    places = [
        {
            "name": case.name,
            "place": case.trace.name if case.trace else case.floor.name if case.floor else "nothing but time",
        }
        for case in cases
    ]
    kept = ("title", "brief", "reference", "checks", "over_cases", "due", "late_per_day")
    return {
        **{name: getattr(exercise, name) for name in kept},
        "teacher": owner.first_name or owner.username,
        "rig": exercise.rig.name,
        "check_titles": titles,
        "cases": places,
        "wordbooks": list(exercise.wordbooks.values_list("title", flat=True)),
        "marks": link.marks,
    }


def reference_run(exercise: int, name: str) -> dict[str, Any]:
    """The reference's run in a case, in the form of `LookRunSerializer`. Raises what keeps it from being run."""
    core = core_exercise(Exercise.objects.select_related("rig").get(pk=exercise))
    case = next((case for case in core.cases if case.name == name), None)
    if case is None:
        raise NotFound(f'There is no case "{name[:60]}".')
    record, seen = case.world.run(runner_for(core.reference, core.rig, core.library))
    stretch = (0, record.lasted, COLUMNS)
    run = run_json(record, core.rig, stretch)
    run["readings"] = lanes(seen, core.rig, *stretch)
    picture = {
        "case": name,
        "at": None,
        "run": run,
        "units": {channel: part.unit_word for channel, part in core.rig.channels.items()},
        "floor": dict(record.pose.floor) if record.pose is not None else None,
    }
    verdicts = judge_all(core.checks.checks, record, record)
    return {"picture": picture, "checks": [verdict.as_json() for verdict in verdicts]}
