"""What every answer carries, and who is asking."""

from collections.abc import Callable

from django.conf import settings
from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse

from toadbell.shed.models import Maker

Answer = Callable[[HttpRequest], HttpResponse]
DEVICES = "/api/devices/readings"
"""Loggers come with a token of their own: no session is begun for them."""
CALENDAR = "/api/calendar/"
"""Calendars come with the secret of their address: no session is begun for them either."""
_LOOPBACK = {"127.0.0.1", "::1"}


def headers(answer: Answer) -> Answer:
    """Content security policy and permissions on every answer."""

    def add(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        response["Content-Security-Policy"] = settings.CONTENT_SECURITY_POLICY
        response["Permissions-Policy"] = "geolocation=(), microphone=(), camera=(self), screen-wake-lock=(self)"
        return response

    return add


def local_owner(answer: Answer) -> Answer:
    """On this machine alone, sign the one local owner in.

    Only a loopback peer asking for a loopback host (ALLOWED_HOSTS holds no other, which keeps rebound names out) is
    taken for the owner. Sign-in for a shared workshop takes this function's place.
    """

    def sign_in(request: HttpRequest) -> HttpResponse:
        if request.path == DEVICES or request.path.startswith(CALENDAR):
            return answer(request)
        if not request.user.is_authenticated and request.META.get("REMOTE_ADDR") in _LOOPBACK:
            request.get_host()
            login(request, Maker.local_owner(), backend="django.contrib.auth.backends.ModelBackend")
        return answer(request)

    return sign_in
