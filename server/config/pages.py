"""The one page of the app, and the headers that keep it to itself."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.views.decorators.csrf import ensure_csrf_cookie

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


# Beside what Django's own middleware says; nothing on these pages comes from or goes to elsewhere. A board on a cable
# is read by the page itself.
_HEADERS = {
    "Cross-Origin-Embedder-Policy": "require-corp",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=(), payment=(), usb=(), serial=(self)",
    "X-Permitted-Cross-Domain-Policies": "none",
}


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
        for name, value in _HEADERS.items():
            response.headers.setdefault(name, value)
        if request.path.startswith(("/api/", "/sign-in", "/join/")):
            response.headers["Cache-Control"] = "no-store"
        if request.path == "/api/sign-out":
            response.headers["Clear-Site-Data"] = '"cache", "cookies"'
        return response


@ensure_csrf_cookie
def app(request: HttpRequest, path: str = "") -> HttpResponseBase:
    """The app's page, for every address that is a view of it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse("The web app is not built yet. Run ./start.", status=503, content_type="text/plain")
    return HttpResponse(page.read_bytes(), content_type="text/html", headers={"Cache-Control": "no-cache"})
