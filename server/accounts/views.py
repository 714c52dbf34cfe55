"""Signing in and out, invitations, and who the teachers are."""

from __future__ import annotations

from django.contrib.auth import authenticate, logout
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.decorators import api_view
from rest_framework.permissions import IsAdminUser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.readers.owners import plain_name
from server.accounts import pages
from server.accounts.guesses import Guesses
from server.accounts.links import invitation, invite, is_good, make_token, redeem
from server.accounts.teachers import accept, end_sessions, known_by, rename, set_password, sign_in_as

guesses = Guesses()
of_names = Guesses(most=10)
BY_LINK = "by_link"
_WRONG = "This name and this password do not belong together."


def _too_many() -> HttpResponse:
    return HttpResponse(pages.too_many_page(), status=429, headers={"Retry-After": "60"})


def _address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))


@require_http_methods(["GET", "HEAD", "POST"])
def sign_in(request: HttpRequest, token: str) -> HttpResponse:
    """Shows the button that redeems a one-time link, and redeems it when it is pressed.

    A preview of the link, which only fetches it, uses nothing up and is signed in nowhere.
    """
    if guesses.too_many(_address(request)):
        return _too_many()
    if request.method == "POST":
        teacher = redeem(token)
        if teacher is not None:
            sign_in_as(request, teacher)
            request.session[BY_LINK] = True  # who lost the password may set another one
            return HttpResponseRedirect("/")
    elif is_good(token):
        return HttpResponse(pages.sign_in_page(get_token(request)))
    if request.user.is_authenticated:
        return HttpResponseRedirect("/")
    guesses.note(_address(request))
    return HttpResponse(pages.used_page(), status=410)


@sensitive_post_parameters("password")
@require_http_methods(["GET", "HEAD", "POST"])
def sign_in_by_password(request: HttpRequest) -> HttpResponse:
    """The form for name and password, and what it sends."""
    if request.method != "POST":
        if request.user.is_authenticated:
            return HttpResponseRedirect("/")
        return HttpResponse(pages.password_page(get_token(request)))
    name, password = plain_name(request.POST.get("name", ""))[:150], request.POST.get("password", "")[:1000]
    account = known_by(name)  # wrong tries are counted by the account, however its name is written
    if guesses.too_many(_address(request)) or of_names.too_many(account.lower()):
        return _too_many()
    teacher = authenticate(request, username=account, password=password)
    if isinstance(teacher, User):
        sign_in_as(request, teacher)
        return HttpResponseRedirect("/")
    guesses.note(_address(request))
    of_names.note(account.lower())
    return HttpResponse(pages.password_page(get_token(request), name, [_WRONG]), status=403)


@sensitive_post_parameters("password")
@require_http_methods(["GET", "HEAD", "POST"])
def join(request: HttpRequest, token: str) -> HttpResponse:
    """The form with which an invited teacher makes an account, and what it sends."""
    if guesses.too_many(_address(request)):
        return _too_many()
    invited = invitation(token)
    if invited is None:
        guesses.note(_address(request))
        return HttpResponse(pages.not_invited_page(), status=410)
    if request.method != "POST":
        return HttpResponse(pages.invitation_page(get_token(request)))
    name, password = request.POST.get("name", ""), request.POST.get("password", "")[:1000]
    try:
        teacher = accept(invited, name, password)
    except ValidationError as problem:
        page = pages.invitation_page(get_token(request), name, problem.messages)
        return HttpResponse(page, status=400)
    if teacher is None:
        return HttpResponse(pages.not_invited_page(), status=410)
    sign_in_as(request, teacher)
    return HttpResponseRedirect("/")


@extend_schema(request=None, responses={204: None})
@api_view(["POST"])
def sign_out(request: Request) -> Response:
    """Signs out."""
    logout(request._request)
    return Response(status=204)


class MeSerializer(serializers.Serializer):
    """Who is signed in."""

    name = serializers.CharField()
    may_invite = serializers.BooleanField()
    asks_old = serializers.BooleanField(help_text="whether a new password needs the one before")


class NameSerializer(serializers.Serializer):
    """A teacher's own name."""

    name = serializers.CharField(max_length=150)


class PasswordSerializer(serializers.Serializer):
    """A new password, with the one before, where there is one."""

    old = serializers.CharField(max_length=1000, allow_blank=True, trim_whitespace=False)
    new = serializers.CharField(max_length=1000, trim_whitespace=False)


def _teacher(request: Request) -> User:
    teacher = request.user
    assert isinstance(teacher, User)  # nobody else comes here
    return teacher


class Me(APIView):
    """Who is signed in."""

    @extend_schema(responses=MeSerializer)
    def get(self, request: Request) -> Response:
        """The teacher's name."""
        return Response(_myself(request))

    @extend_schema(request=NameSerializer, responses=MeSerializer)
    def patch(self, request: Request) -> Response:
        """Another name, to be seen and to sign in by."""
        asked = NameSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        try:
            rename(_teacher(request), asked.validated_data["name"])
        except ValidationError as problem:
            raise serializers.ValidationError({"name": problem.messages}) from None
        return Response(_myself(request))


def _myself(request: Request) -> dict[str, object]:
    teacher = _teacher(request)
    name = teacher.first_name or teacher.get_username()
    return {"name": name, "may_invite": teacher.is_staff, "asks_old": _asks_old(request)}


def _asks_old(request: Request) -> bool:
    """Whether a new password needs the one before."""
    return _teacher(request).has_usable_password() and not request.session.get(BY_LINK)


class PasswordView(APIView):
    """A teacher's own password."""

    @extend_schema(request=PasswordSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Another password; all other sessions end."""
        teacher = _teacher(request)
        asked = PasswordSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        old, new = asked.validated_data["old"], asked.validated_data["new"]
        if of_names.too_many(teacher.username.lower()):
            raise serializers.ValidationError({"old": ["Too many wrong tries. Wait a minute, then try again."]})
        if _asks_old(request) and not teacher.check_password(old):
            of_names.note(teacher.username.lower())
            raise serializers.ValidationError({"old": ["This is not your password now."]})
        try:
            set_password(teacher, new)
        except ValidationError as problem:
            raise serializers.ValidationError({"new": problem.messages}) from None
        sign_in_as(request._request, teacher)
        return Response(status=204)


class SessionsView(APIView):
    """A teacher's own sessions."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        """Ends all of them, this one too."""
        end_sessions(_teacher(request))
        logout(request._request)
        return Response(status=204)


class TeacherSerializer(serializers.Serializer):
    """A teacher, as colleagues who may invite see one."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    may_invite = serializers.BooleanField()
    has_password = serializers.BooleanField()
    last_seen = serializers.DateTimeField(allow_null=True, help_text="when a session was begun last")


class LinkSerializer(serializers.Serializer):
    """A link's path; it is told once."""

    path = serializers.CharField()


class InviteSerializer(serializers.Serializer):
    """Whom an invitation is for, to remember it by."""

    note = serializers.CharField(max_length=100, required=False, allow_blank=True, default="")


class TeachersView(APIView):
    """All teachers, for those who may invite."""

    permission_classes = [IsAdminUser]  # noqa: RUF012

    @extend_schema(responses=TeacherSerializer(many=True))
    def get(self, request: Request) -> Response:
        """By their names."""
        return Response([_told(teacher) for teacher in User.objects.filter(is_active=True).order_by("first_name")])

    @extend_schema(request=InviteSerializer, responses={201: LinkSerializer})
    def post(self, request: Request) -> Response:
        """An invitation for one more teacher."""
        asked = InviteSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        return Response({"path": f"/join/{invite(_teacher(request), asked.validated_data['note'])}"}, status=201)


def _told(teacher: User) -> dict[str, object]:
    return {
        "id": teacher.pk,
        "name": teacher.first_name or teacher.username,
        "may_invite": teacher.is_staff,
        "has_password": teacher.has_usable_password(),
        "last_seen": teacher.last_login,
    }


class TeacherLinkView(APIView):
    """A new link for a teacher who cannot sign in."""

    permission_classes = [IsAdminUser]  # noqa: RUF012

    @extend_schema(request=None, responses={201: LinkSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """It signs in once; a password can be set then without the old one."""
        teacher = get_object_or_404(User, pk=pk, is_active=True)
        return Response({"path": f"/sign-in/{make_token(teacher)}"}, status=201)


class TeacherSessionsView(APIView):
    """The sessions of a teacher, for those who may invite."""

    permission_classes = [IsAdminUser]  # noqa: RUF012

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Ends all of them."""
        end_sessions(get_object_or_404(User, pk=pk))
        return Response(status=204)
