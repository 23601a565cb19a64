"""What every answer carries, and who is asking."""

import zoneinfo
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone

from toadbell.core.phrases import Habit, speaking
from toadbell.shed.models import Maker
from toadbell.site.who import loopback, same_user

Answer = Callable[[HttpRequest], HttpResponse]
DEVICES = "/api/devices/readings"
"""Loggers come with a token of their own: who owns their connection does not matter."""
CALENDAR = "/api/calendar/"
"""Calendars come with the secret of their address."""
_OWN_PAGES = {"", "same-origin", "none"}


def headers(answer: Answer) -> Answer:
    """Content security policy and permissions on every answer; nothing of it may be embedded, read or opened by another
    page.
    """

    def add(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        response["Content-Security-Policy"] = settings.CONTENT_SECURITY_POLICY
        response["Permissions-Policy"] = "geolocation=(), microphone=(), camera=(self), screen-wake-lock=(self)"
        response["Cross-Origin-Resource-Policy"] = "same-origin"
        response["Cross-Origin-Opener-Policy"] = "same-origin"
        return response

    return add


def own_pages_only(answer: Answer) -> Answer:
    """Refuse calls that a browser says come from another site's page, reading ones too.

    Programs and older browsers say nothing.
    """

    def look(request: HttpRequest) -> HttpResponse:
        foreign = request.headers.get("Sec-Fetch-Site", "") not in _OWN_PAGES
        if foreign and request.path.startswith("/api/"):
            return JsonResponse(
                {"says": "This was asked by another site's page. Open Toad Bell itself.", "field": None}, status=403
            )
        return answer(request)

    return look


REFUSALS = {409, 412, 422}
"""What is no fault of anybody: it cannot be done now, or what was typed cannot be taken."""


def refusals_as_answers(answer: Answer) -> Answer:
    """Give the pages of this application a refusal as an answer, its status in `X-Refused`, where they ask for it.

    A browser tells every other status as an error in its console, where somebody would look for real ones.
    """

    def give(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        if (
            request.headers.get("X-Refusals") == "answer"
            and request.method != "GET"
            and response.status_code in REFUSALS
        ):
            response["X-Refused"] = str(response.status_code)
            response.status_code = 200
        return response

    return give


def local_owner(answer: Answer) -> Answer:
    """On this machine alone, take the user who started the application for the owner, without a session.

    The other end of the connection has to be a loopback one that belongs to that user (or the workshop is open to
    whoever sits
    here, as the demo is), asking for a loopback host (ALLOWED_HOSTS holds no other, which keeps rebound names out).
    Whoever came
    by a link of one use has a session. Sign-in for a shared workshop takes this function's place.
    """

    def sign_in(request: HttpRequest) -> HttpResponse:
        own = request.path.startswith("/api/") and request.path != DEVICES and not request.path.startswith(CALENDAR)
        if own and not request.user.is_authenticated and _sits_here(request):
            request.get_host()
            request.user = Maker.local_owner()
        zone, habit = getattr(request.user, "zone", "UTC"), getattr(request.user, "habit", Habit())
        with timezone.override(zoneinfo.ZoneInfo(zone) if own else None), speaking(habit):
            return answer(request)

    return sign_in


def _sits_here(request: HttpRequest) -> bool:
    caller = request.META.get("REMOTE_ADDR") or ""
    if not loopback(caller):
        return False
    if settings.OPEN_TO_ALL_HERE:
        return True
    try:
        ends = (
            (caller, int(request.META["REMOTE_PORT"])),
            (request.META["SERVER_NAME"], int(request.META["SERVER_PORT"])),
        )
    except (KeyError, ValueError):
        return False
    return same_user(*ends)
