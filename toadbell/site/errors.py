"""Errors are for people: one shape, what was wrong, which field, what would be accepted."""

import errno
import logging
from collections.abc import Sequence
from typing import Any

from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig, SuspiciousOperation
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from toadbell.core.phrases import say
from toadbell.core.run.steps import STEPS
from toadbell.core.sheets import SheetError
from toadbell.core.units import QuantityError
from toadbell.people.api import NO_TOKEN
from toadbell.shed.errors import NotNow, Stale
from toadbell.shed.wire import Unkept
from toadbell.site.middleware import DEVICES

_log = logging.getLogger("django")


def answer(says: str, status: int, field: str | None = None) -> HttpResponse:
    """The one shape of an error."""
    return JsonResponse({"says": says, "field": field}, status=status)


STRANGER = (
    "You are not signed in here. It is open to the user who started it, on this machine; a phone is let in by words "
    "that stand on its screen (Bring a phone), another browser of it by a link of one use: make link"
)
UNKNOWN_TOKEN = (
    "This token is not known here, or was taken away. Make a new one at the bench, and send it as “Authorization: "
    "Bearer tb_…”."
)


def first_of(errors: Sequence[Any]) -> tuple[str, str | None]:
    """The first thing that is wrong, in a sentence, and the field it is about."""
    first = errors[0]
    field = ".".join(
        str(part) for part in first["loc"] if part not in ("data", "body", "query", "path", "form", "file")
    )
    says = first["msg"].removeprefix("Value error, ")
    if first["type"] == "missing":
        says = "this is needed and was not given"
    elif first["type"] == "union_tag_invalid":
        says = say("step.unknown", kind=str(first["ctx"]["tag"])[:40], steps=list(STEPS))
    return in_sentence(says), field or None


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer to a write without the page's token; one whose token was changed on the way, for somebody else came to
    this browser, is sent again.
    """
    if request.headers.get("X-CSRFToken") and settings.CSRF_COOKIE_NAME in request.COOKIES:
        return answer("Somebody else came to this browser just now. Ask again.", 503)
    return answer("This page is out of date or came from elsewhere. Load it again; nothing typed here was stored.", 403)


def register(api: NinjaAPI) -> None:
    """Teach the API how to say what went wrong."""

    @api.exception_handler(SheetError)
    def _sheet(request: HttpRequest, problem: SheetError) -> HttpResponse:
        return answer(in_sentence(problem.says), 422, problem.field)

    @api.exception_handler(QuantityError)
    def _quantity(request: HttpRequest, problem: QuantityError) -> HttpResponse:
        return answer(in_sentence(str(problem)), 422)

    @api.exception_handler(NotNow)
    def _not_now(request: HttpRequest, problem: NotNow) -> HttpResponse:
        return answer(str(problem), 409)

    @api.exception_handler(Stale)
    def _stale(request: HttpRequest, problem: Stale) -> HttpResponse:
        return answer(str(problem), 412)

    @api.exception_handler(ObjectDoesNotExist)
    def _gone(request: HttpRequest, problem: ObjectDoesNotExist) -> HttpResponse:
        return answer(
            "There is nothing here under that address. It may have been taken down, or the link is cut short.", 404
        )

    @api.exception_handler(ValidationError)
    def _invalid(request: HttpRequest, problem: ValidationError) -> HttpResponse:
        says, field = first_of(problem.errors)
        return answer(says, 422, field)

    @api.exception_handler(AuthenticationError)
    def _stranger(request: HttpRequest, problem: AuthenticationError) -> HttpResponse:
        if request.path == DEVICES:
            return answer(UNKNOWN_TOKEN, 401)
        return answer(STRANGER, 401)

    @api.exception_handler(RequestDataTooBig)
    def _too_big(request: HttpRequest, problem: RequestDataTooBig) -> HttpResponse:
        return answer("That is too much at a time: 10 MB at the most. Send it in smaller parts, the oldest first.", 413)

    @api.exception_handler(MultiPartParserError)
    def _no_form(request: HttpRequest, problem: MultiPartParserError) -> HttpResponse:
        return answer(
            "What was sent is no form that can be read: it was cut short, or says nothing of where its parts end.", 400
        )

    @api.exception_handler(SuspiciousOperation)
    def _suspicious(request: HttpRequest, problem: SuspiciousOperation) -> HttpResponse:
        return answer(
            "What was sent has more parts than any form here, or names that belong nowhere. Nothing was stored.", 400
        )

    @api.exception_handler(UnreadablePostError)
    def _cut(request: HttpRequest, problem: UnreadablePostError) -> HttpResponse:
        return answer("What was sent was cut short on the way. Nothing was stored; send it again.", 400)

    @api.exception_handler(OperationalError)
    def _disk(request: HttpRequest, problem: OperationalError) -> HttpResponse:
        _log.error("the database at %s: %s", request.path, problem)
        return answer(disk_says(problem), 507)

    @api.exception_handler(OSError)
    def _file(request: HttpRequest, problem: OSError) -> HttpResponse:
        _log.error("a file at %s: %s", request.path, problem)
        return answer(disk_says(problem), 507 if problem.errno in FULL else 500)

    @api.exception_handler(HttpError)
    def _plain(request: HttpRequest, problem: HttpError) -> HttpResponse:
        if str(problem) == NO_TOKEN:
            return csrf_failure(request)
        if isinstance(problem.__cause__, Unkept):
            return answer(str(problem.__cause__), 422)
        says = "What was sent could not be read as JSON." if problem.status_code == 400 else problem.message
        return answer(says, problem.status_code)

    @api.exception_handler(Exception)
    def _unforeseen(request: HttpRequest, problem: Exception) -> HttpResponse:
        _log.exception("unforeseen at %s", request.path)
        return answer(
            "Something went wrong here that we did not foresee. What was stored before is kept; try again.", 500
        )


FULL = {errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES, errno.EPERM}


def disk_says(problem: Exception) -> str:
    """What stands in the way of writing or reading, and what to do."""
    told = str(problem).lower()
    number = getattr(problem, "errno", None)
    if "full" in told or number in (errno.ENOSPC, errno.EDQUOT):
        return (
            "The disk is full: nothing more can be stored. What was acknowledged is kept. Make room, and send this "
            "again."
        )
    if "readonly" in told or "read-only" in told or number in (errno.EROFS, errno.EACCES, errno.EPERM):
        return (
            f"The data folder {settings.DATA_DIR} cannot be written to: nothing was stored. Let its owner write "
            "there, and send this again."
        )
    if "locked" in told or "busy" in told:
        return (
            "The database is busy with something long, such as a restore. Nothing was stored; send this again in a "
            "moment."
        )
    if number == errno.ENOENT:
        return (
            "A file that belongs here is missing: it was moved or deleted outside of Toad Bell. A backup may still "
            "have it."
        )
    return (
        "The disk or the database does not answer as it should. What was acknowledged is kept; look at the disk, "
        "and try again."
    )


def in_sentence(says: str) -> str:
    """A message as a sentence: capital first, full stop last."""
    text = says[:1].upper() + says[1:]
    return text if text.endswith((".", "?", "!")) else text + "."
