"""The one page of the app, and the headers that keep it to itself."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.views.decorators.csrf import ensure_csrf_cookie

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


class ContentPolicy:
    """Says on every answer that the page loads nothing from elsewhere."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        return response


@ensure_csrf_cookie
def app(request: HttpRequest, path: str = "") -> HttpResponseBase:
    """The app's page, for every address that is a view of it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse("The web app is not built yet. Run ./start.", status=503, content_type="text/plain")
    return FileResponse(page.open("rb"), content_type="text/html", headers={"Cache-Control": "no-cache"})
