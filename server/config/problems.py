"""The one place where errors become answers: problem details (RFC 9457)."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import (
    ObjectDoesNotExist,
    PermissionDenied,
    RequestDataTooBig,
    SuspiciousOperation,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.db import IntegrityError
from django.http import Http404
from rest_framework import exceptions, status
from rest_framework.response import Response

from geduld.errors import GeduldError, ProgramError

log = logging.getLogger(__name__)


class Told(Exception):
    """An error that was told as problem details elsewhere."""

    def __init__(self, body: dict[str, Any]) -> None:
        super().__init__(body["title"])
        self.body = body


def handle(error: Exception, context: dict[str, Any]) -> Response:
    """An error as problem details: what happened, what to do, and where.

    Errors of the core keep their code and place; faults of ours say nothing about our insides.
    """
    body = body_of(error)
    if body["status"] >= 500 and not isinstance(error, Told):
        log.exception("the request failed", exc_info=error)
    response = Response(body, status=body["status"], content_type="application/problem+json")
    wait = getattr(error, "wait", None) if isinstance(error, exceptions.APIException) else None
    if wait:
        response["Retry-After"] = str(wait)
    return response


_TOO_MUCH: dict[type[Exception], tuple[str, str]] = {
    RequestDataTooBig: ("This is more than one request may hold.", "Send less at once."),
    TooManyFieldsSent: ("This request has too many fields.", "Send fewer at once."),
    TooManyFilesSent: ("These are too many files for one request.", "Send them in smaller lots."),
}


def body_of(error: BaseException) -> dict[str, Any]:
    """An error as the value of problem details."""
    if isinstance(error, Told):
        return error.body
    if isinstance(error, SuspiciousOperation):
        title, remedy = _TOO_MUCH.get(type(error), ("This request cannot be read.", "Reload the page, and try again."))
        too_much = type(error) in _TOO_MUCH
        return _problem("too-much" if too_much else "bad-request", 413 if too_much else 400, title, remedy)
    if isinstance(error, GeduldError):
        place = error.place
        body = _problem(error.code, 422, error.message, error.remedy)
        body |= {"file": place.file, "row": place.row, "column": place.column, "path": place.path}
        if isinstance(error, ProgramError):
            body["hints"] = [hint.as_json() for hint in error.hints]
        return body
    if isinstance(error, IntegrityError):
        title = "Something that this needs was changed or deleted at the same moment. Nothing is changed by this."
        return _problem("changed-meanwhile", 409, title, "Reload the page, and try again.")
    if isinstance(error, Http404 | ObjectDoesNotExist):
        return _problem("not-found", 404, "This is not there.", "It may have been deleted, or belong to someone else.")
    if isinstance(error, PermissionDenied | exceptions.PermissionDenied):
        return _problem("not-allowed", 403, "This is not allowed.", "Reload the page and sign in again.")
    if isinstance(error, exceptions.NotAuthenticated | exceptions.AuthenticationFailed):
        return _problem("not-signed-in", 403, "You are not signed in.", "Open the sign-in link that ./start prints.")
    if isinstance(error, exceptions.ValidationError):
        body = _problem("bad-request", 400, "Something in this request is missing or wrong.", "")
        return body | {"detail": _sentences(error.detail), "fields": error.detail}
    if isinstance(error, exceptions.APIException):
        body = _problem(error.default_code, error.status_code, _sentences(error.detail), "")
        return body | getattr(error, "more", {})
    return _problem(
        "our-fault",
        status.HTTP_500_INTERNAL_SERVER_ERROR,
        "Geduld failed here. Your work is safe.",
        "Try again; if it stays, report it.",
    )


def _sentences(detail: Any) -> str:
    if isinstance(detail, dict):
        return " ".join(f"{key}: {_sentences(value)}" for key, value in detail.items())
    if isinstance(detail, list):
        return " ".join(_sentences(value) for value in detail if value)
    return str(detail)


def _problem(code: str, status_code: int, title: str, remedy: str) -> dict[str, Any]:
    return {
        "type": f"urn:geduld:{code}",
        "code": code,
        "status": status_code,
        "title": title,
        "detail": remedy or title,
        "remedy": remedy,
    }
