"""Signing in and out."""

from __future__ import annotations

from django.contrib.auth import login, logout
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from drf_spectacular.utils import extend_schema, inline_serializer
from rest_framework import serializers
from rest_framework.decorators import api_view
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.accounts.links import redeem

_USED = (
    "<!doctype html><html lang='en'><meta charset='utf-8'><title>Geduld</title>"
    "<body style='font: 18px sans-serif; max-width: 32em; margin: 4em auto; padding: 0 1em'>"
    "<h1>This sign-in link has been used or is too old</h1>"
    "<p>Each link opens Geduld once. Run ./start again: it prints a new one.</p></body></html>"
)


def sign_in(request: HttpRequest, token: str) -> HttpResponse:
    """Redeems a one-time link and opens the app."""
    if request.method not in ("GET", "POST"):
        return HttpResponse(status=405)
    teacher = redeem(token)
    if teacher is None:
        if request.user.is_authenticated:
            return HttpResponseRedirect("/")
        return HttpResponse(_USED, status=410)
    login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
    return HttpResponseRedirect("/")


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
        return Response({"name": request.user.first_name or request.user.get_username()})
