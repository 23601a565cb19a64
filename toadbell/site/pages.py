"""The page that carries the browser application, and plain pages for when it cannot be carried."""

import logging
from html import escape

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

_log = logging.getLogger("django")
_PLAIN = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Toad Bell</title><link rel="stylesheet" href="/plain.css">
<main><p class="name">Toad Bell</p><h1>{title}</h1><p>{says}</p>
<p><a href="/">Back to the shed</a></p></main></html>"""


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built browser application; it finds its own way from the address."""
    index = settings.WHITENOISE_ROOT / "index.html"
    if not index.exists():
        return told(
            "The browser application is not built yet",
            "Run make demo or make run: it is built first, then served.",
            503,
        )
    return HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")


def told(title: str, says: str, status: int) -> HttpResponse:
    """A page with one thing to say, that needs nothing but itself."""
    return HttpResponse(
        _PLAIN.format(title=escape(title), says=escape(says)), status=status, content_type="text/html; charset=utf-8"
    )


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """An address or a host that is none of ours."""
    return told(
        "This is not how Toad Bell is asked",
        "Open it under the address that it said when it was started, such as http://127.0.0.1:8000",
        400,
    )


def refused(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Nothing for this caller."""
    return told("That is not open to you", "Open Toad Bell on the machine it runs on, as the user who started it.", 403)


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """No such file."""
    return told(
        "Nothing hangs here",
        "There is no file under this address. A link may have been cut short when it was copied.",
        404,
    )


def failed(request: HttpRequest) -> HttpResponse:
    """What nobody foresaw."""
    return told(
        "Something went wrong here that we did not foresee",
        "What was stored before is kept. Load the page again; if it stays, start Toad Bell again and read what it says "
        "in its window.",
        500,
    )
