"""Signing in and out."""

from __future__ import annotations

from django.contrib.auth import login, logout
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.middleware.csrf import get_token
from django.views.decorators.http import require_http_methods
from drf_spectacular.utils import extend_schema, inline_serializer
from rest_framework import serializers
from rest_framework.decorators import api_view
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.accounts.guesses import Guesses
from server.accounts.links import is_good, redeem
from server.accounts.pages import sign_in_page, too_many_page, used_page

guesses = Guesses()


@require_http_methods(["GET", "HEAD", "POST"])
def sign_in(request: HttpRequest, token: str) -> HttpResponse:
    """Shows the button that redeems a one-time link, and redeems it when it is pressed.

    A preview of the link, which only fetches it, uses nothing up and is signed in nowhere.
    """
    address = request.META.get("REMOTE_ADDR", "")
    if guesses.too_many(address):
        return HttpResponse(too_many_page(), status=429, headers={"Retry-After": "60"})
    if request.method == "POST":
        teacher = redeem(token)
        if teacher is not None:
            login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
            return HttpResponseRedirect("/")
    elif is_good(token):
        return HttpResponse(sign_in_page(get_token(request)))
    if request.user.is_authenticated:
        return HttpResponseRedirect("/")
    guesses.note(address)
    return HttpResponse(used_page(), status=410)


@extend_schema(request=None, responses={204: None})
@api_view(["POST"])
def sign_out(request: Request) -> Response:
    """Signs out."""
    logout(request._request)
    return Response(status=204)


class Me(APIView):
    """Who is signed in."""

    @extend_schema(responses=inline_serializer("Me", {"name": serializers.CharField()}))
    def get(self, request: Request) -> Response:
        """The teacher's name."""
        teacher = request.user
        assert isinstance(teacher, User)  # nobody else comes here
        return Response({"name": teacher.first_name or teacher.get_username()})
