"""The one place where errors become answers: problem details (RFC 9457)."""

from __future__ import annotations

import logging
import sys
from typing import Any

from django.core.exceptions import (
    ObjectDoesNotExist,
    PermissionDenied,
    RequestDataTooBig,
    SuspiciousOperation,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.db import DatabaseError, IntegrityError, OperationalError
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions, status
from rest_framework.response import Response

from geduld.errors import GeduldError, ProgramError
from server.config.space import is_full

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
    wait = 2 if body["code"] == "busy" else wait
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
    if isinstance(error, OSError | DatabaseError):
        of_the_disk = _of_the_disk(error)
        if of_the_disk is not None:
            return of_the_disk
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
        "Geduld failed here. What was saved before is safe.",
        "Try again; if it stays, report it.",
    )


def _of_the_disk(error: OSError | DatabaseError) -> dict[str, Any] | None:
    """What the disk, or the database on it, has to do with an error; None where it has nothing to do with it."""
    said = str(error)
    if is_full(error):
        remedy = "What was saved before is safe. Empty the trash, or make room on the disk; then save again."
        return _problem("disk-full", 507, "The disk is full, so this was not saved.", remedy)
    if isinstance(error, OperationalError) and ("locked" in said or "busy" in said):
        return _problem("busy", 503, "Somebody else is saving much at this moment.", "Try again in a few seconds.")
    if isinstance(error, DatabaseError) and any(word in said for word in ("malformed", "not a database", "disk I/O")):
        remedy = "Stop Geduld, and restore a backup: python -m server restore FILE"
        return _problem("damaged", 500, f"The database is damaged ({said}), so this could not be done.", remedy)
    return None


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


def _page(error: BaseException) -> JsonResponse:
    body = body_of(error)
    return JsonResponse(body, status=body["status"], content_type="application/problem+json")


def bad_request(request: HttpRequest, exception: Exception) -> JsonResponse:
    """What was asked in a way that cannot be read."""
    return _page(exception if isinstance(exception, SuspiciousOperation) else SuspiciousOperation())


def forbidden(request: HttpRequest, exception: Exception) -> JsonResponse:
    """What is not allowed."""
    return _page(exceptions.PermissionDenied())


def not_found(request: HttpRequest, exception: Exception) -> JsonResponse:
    """An address that there is not."""
    return _page(Http404())


def server_error(request: HttpRequest) -> JsonResponse:
    """A fault before, or behind, what a view does: a session that cannot be saved, for one."""
    return _page(sys.exc_info()[1] or RuntimeError())
