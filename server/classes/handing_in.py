"""What students see and send, without an account: with the exercise's code and their own."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.exceptions import NotFound, Throttled
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.language.source import MOST_TEXT_BYTES
from server.accounts.guesses import Guesses, Known
from server.classes.answers import DeskSerializer, HandedInSerializer, desk, tried
from server.classes.codes import plain
from server.classes.models import Assignment, Student
from server.classes.tries import language_for, look, take

wrong = Guesses(most=30)
known = Known()
sent = Guesses(most=12)  # tries of one student in a minute
CODES = [
    OpenApiParameter("X-Geduld-Exercise", OpenApiTypes.STR, OpenApiParameter.HEADER, required=True),
    OpenApiParameter("X-Geduld-Student", OpenApiTypes.STR, OpenApiParameter.HEADER, required=True),
]
_UNKNOWN = "These two codes do not belong together. Look at your sheet again; letters and numbers are mixed."


def _who(request: Request) -> tuple[Assignment, Student]:
    """The assignment and the student of the codes that came along. Raises NotFound, and Throttled for who guesses.

    Wrong codes are counted by the address, and all of them are told the same. Who got in from there lately goes on.
    """
    django: HttpRequest = request._request
    address = str(django.META.get("REMOTE_ADDR", ""))
    exercise, student = (
        plain(request.headers.get("X-Geduld-Exercise", "")),
        plain(request.headers.get("X-Geduld-Student", "")),
    )
    # a whole school may stand behind one address: who got in from there is not kept out by who guesses
    if wrong.too_many(address) and not known.knows(address, exercise, student):
        raise Throttled(60, "Too many wrong codes came from here. Wait a minute, then try again.")
    found = (
        Assignment.objects.select_related("exercise__rig", "school_class")
        .filter(code=exercise, exercise__trashed__isnull=True)
        .first()
    )
    who = None if found is None else Student.objects.filter(school_class=found.school_class_id, code=student).first()
    if found is None or who is None:
        wrong.note(address)
        raise NotFound(_UNKNOWN)
    known.note(address, exercise, student)
    return found, who


class OfStudents(APIView):
    """A view for those who have no account: no cookie counts here."""

    authentication_classes: list[Any] = []  # noqa: RUF012
    permission_classes = [AllowAny]  # noqa: RUF012


class DeskView(OfStudents):
    """What a student is asked to do, and what they have handed in."""

    @extend_schema(parameters=CODES, responses=DeskSerializer)
    def get(self, request: Request) -> Response:
        """The brief, the public checks, the deadline, the tries, and the marks once they are given back."""
        return Response(desk(*_who(request)))


class HandingInSerializer(serializers.Serializer):
    """A program to hand in: its text, the name of its file, and the browser's own key for it."""

    text = serializers.CharField(max_length=MOST_TEXT_BYTES, trim_whitespace=False)
    file = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    key = serializers.CharField(max_length=40)

    def validate_text(self, text: str) -> str:
        """A text that is empty is no try."""
        if not text.strip():
            raise serializers.ValidationError("Nothing is written here yet.")
        if len(text.encode("utf-8", "surrogatepass")) > MOST_TEXT_BYTES:
            raise serializers.ValidationError(f"A program has at most {MOST_TEXT_BYTES:,} bytes.")
        return text


class TriesView(OfStudents):
    """Where students hand in."""

    @extend_schema(parameters=CODES, request=HandingInSerializer, responses={201: HandedInSerializer})
    def post(self, request: Request) -> Response:
        """Keeps the try, looks at it, and tells what came of it: the receipt, and feedback by the public checks."""
        assignment, student = _who(request)
        asked = HandingInSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        language = language_for(values["file"], values["text"], assignment.exercise)
        if sent.too_many(student.code):
            raise Throttled(60, "Many tries came within a minute. Look at what you were told, then try again.")
        sent.note(student.code)
        made = take(assignment, student, values["text"].encode("utf-8", "replace"), language, values["key"])
        # one that came twice, as its answer was lost on the way, is looked at again
        return Response(tried(made, look(made), timezone.now()), status=201)
