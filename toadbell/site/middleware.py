"""What every answer carries, and who is asking."""

import zoneinfo
from collections.abc import Callable

from django.conf import settings
from django.contrib.auth.models import AnonymousUser
from django.contrib.sessions.middleware import SessionMiddleware
from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.request import split_domain_port
from django.utils import timezone

from toadbell.core.phrases import Habit, speaking
from toadbell.people import may
from toadbell.people.models import SignedIn
from toadbell.shed.models import Maker
from toadbell.site.share.addresses import local_name
from toadbell.site.who import loopback, same_user

Answer = Callable[[HttpRequest], HttpResponse]
DEVICES = "/api/devices/readings"
"""Loggers come with a token of their own: who owns their connection does not matter."""
DESCRIPTION = "/api/openapi.json"
"""How the API describes itself: for whoever is let in."""
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
        if request.path.startswith("/api/") and not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        if request.is_secure():
            for cookie in response.cookies.values():
                cookie["secure"] = True
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


def own_names(answer: Answer) -> Answer:
    """Answer only to the name of where the connection came in: this machine's loopback names there, elsewhere the very
    address, or the name that the certificate has. A name that somebody made to lead here is answered nothing.
    """

    def look(request: HttpRequest) -> HttpResponse:
        host = split_domain_port(request.get_host())[0].strip("[]")
        came_to = request.META.get("SERVER_NAME") or ""
        near = loopback(came_to) and not request.is_secure()
        allowed = host in _LOOPBACK_NAMES if near else host in {came_to, local_name()}
        if not allowed:
            raise DisallowedHost(f"asked for as {host[:80]}")
        return answer(request)

    return look


_LOOPBACK_NAMES = {"127.0.0.1", "localhost", "::1"}


class KeptSessions(SessionMiddleware):
    """Sessions as they are, but for one thing: an answer to what was asked with a session before takes the cookie of
    the one now away from nobody. It goes where somebody signs out.
    """

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """Set the cookie, or take it away."""
        gone = settings.SESSION_COOKIE_NAME in request.COOKIES and request.session.is_empty()
        if gone and not getattr(request, "signs_out", False):
            return response
        return super().process_response(request, response)


def who_asks(answer: Answer) -> Answer:
    """Who is asking, and whether they may do that.

    On this machine alone the user who started the application is the owner, without a session, unless the owner wants
    to be asked. The other end of the connection has to be a loopback one that belongs to that user (or the workshop is
    open to whoever sits here, as the demo is). Everybody else has a session, which names what they signed in with: that
    is looked up at every request, so that who is shut out is so at once.
    """

    def look(request: HttpRequest) -> HttpResponse:
        path = request.path
        own = path.startswith("/api/") and path != DEVICES and not path.startswith(CALENDAR)
        if not own:
            with timezone.override(None), speaking(Habit()):
                return answer(request)
        here = _sits_here(request)
        request.sits_here = here  # type: ignore[attr-defined]
        at, refused = _signed_in(request, here)
        if refused is not None and path not in OPEN:
            return refused
        if path == DESCRIPTION and not request.user.is_authenticated:
            return JsonResponse({"says": _NAMELESS, "field": None}, status=401)
        if request.user.is_authenticated:
            why = may.refusal(request.user, at, request.method or "", path)
            if why is not None:
                return JsonResponse({"says": why, "field": None}, status=403)
        zone, habit = getattr(request.user, "zone", "UTC"), getattr(request.user, "habit", Habit())
        with timezone.override(zoneinfo.ZoneInfo(zone)), speaking(habit):
            return answer(request)

    return look


def _signed_in(request: HttpRequest, here: bool) -> tuple[SignedIn | None, HttpResponse | None]:
    """What the asking browser signed in with; and the answer where it is let in no longer.

    Who sits at the machine of an owner who need not be asked is the owner, where nobody else signed in.
    """
    at = None
    if request.user.is_authenticated:
        at = SignedIn.of(request)
        if at is not None and at.replaced:
            return None, JsonResponse({"says": _REPLACED, "field": None}, status=503)
        why = at.over if at is not None else _NAMELESS
        if why is not None:
            request.user = AnonymousUser()
            at = None
            if not here:
                request.session.flush()
                return None, JsonResponse({"says": why, "field": SHUT_OUT}, status=401)
        elif at is not None:
            at.still_there()
    elif not here and request.COOKIES.get(settings.SESSION_COOKIE_NAME):
        return None, JsonResponse({"says": _NAMELESS, "field": SHUT_OUT}, status=401)
    if not request.user.is_authenticated and here:
        owner = Maker.local_owner()
        if not owner.asked_here:
            request.user = owner
    return at, None


OPEN = ("/api/who", "/api/join", "/api/forget")
"""What whoever comes is answered, let in or not: a phone that was shut out may bring new words."""
SHUT_OUT = "shut-out"
"""By which a page knows that it has to tell what was not taken from it, and to forget all the rest."""
_REPLACED = "Somebody else is at this browser now. Ask again."
_NAMELESS = "This browser is let in no longer."


def _sits_here(request: HttpRequest) -> bool:
    """Did it come through the door of this machine alone, from the user who started the application?"""
    caller = request.META.get("REMOTE_ADDR") or ""
    if request.is_secure() or not loopback(caller):
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
