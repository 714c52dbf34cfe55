"""The one page of the app, and the headers that keep it to itself."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.views.decorators.csrf import ensure_csrf_cookie

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


class NoBodyForHead:
    """Answers to HEAD have no body: a client would take it for the start of the next answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, without its body for a HEAD."""
        response = self.get_response(request)
        if request.method == "HEAD":
            if isinstance(response, StreamingHttpResponse):
                response.streaming_content = ()
            elif isinstance(response, HttpResponse):
                response.content = b""
            response.headers.pop("Content-Length", None)
        return response


class ContentPolicy:
    """Says on every answer that the page loads nothing from elsewhere; on what is a teacher's, that nobody keeps it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, with what a page may load and do."""
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        if request.path.startswith(("/api/", "/sign-in/")):
            response.headers["Cache-Control"] = "no-store"
        return response


@ensure_csrf_cookie
def app(request: HttpRequest, path: str = "") -> HttpResponseBase:
    """The app's page, for every address that is a view of it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse("The web app is not built yet. Run ./start.", status=503, content_type="text/plain")
    return FileResponse(page.open("rb"), content_type="text/html", headers={"Cache-Control": "no-cache"})
