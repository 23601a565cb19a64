"""Long answers, kept as they were written for as long as nothing that they rest on changes.

An answer carries a mark of what it rests on (ETag): what did not change is not sent again, and not worked out again.
"""

import hashlib
from collections import OrderedDict
from collections.abc import Callable

from django.db.models import Count, Max, Sum
from django.http import HttpRequest, HttpResponse, HttpResponseNotModified
from django.utils import timezone
from pydantic import BaseModel

from toadbell.records.models import Attachment
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Decision, Event, Trial, Verdict

MOST = 60
"""So many answers are kept."""
_written: OrderedDict[str, bytes] = OrderedDict()


def workshop_mark() -> tuple[object, ...]:
    """Of all that lists tell of: it changes with any vessel, trial, event, verdict, decision, care, picture, piece of
    kit or person, and with the day.
    """
    return (
        of_this_database(),
        timezone.localdate(),
        timezone.get_current_timezone_name(),
        Vessel.objects.aggregate(Count("pk"), Sum("version"), Max("hung_up")),
        Trial.objects.aggregate(Count("pk"), Sum("version")),
        Event.objects.aggregate(Max("stored_at")),
        Event.objects.count(),
        Verdict.objects.aggregate(Count("pk"), Max("at")),
        Decision.objects.aggregate(Count("pk"), Max("at"), Max("pk")),
        Care.objects.aggregate(Count("pk"), Max("at"), Max("withdrawn")),
        Attachment.objects.aggregate(Count("pk"), Max("at")),
        Kit.objects.aggregate(Count("pk"), Sum("version")),
        list(Maker.objects.order_by("pk").values_list("first_name", "username")),
    )


def kept_answer(request: HttpRequest, rests_on: object, write: Callable[[], BaseModel]) -> HttpResponse:
    """An answer as it was written before, or written now; 304 where whoever asks has it already.

    rests_on  changes whenever the answer would: by whom it is asked, for what, and the mark of the workshop
    """
    mark = f'"{hashlib.sha256(repr(rests_on).encode()).hexdigest()[:24]}"'
    here = getattr(request, "sits_here", False)  # elsewhere nothing of the workshop stays on a disk
    headers = {"ETag": mark, "Cache-Control": "private, no-cache" if here else "no-store"}
    if request.headers.get("If-None-Match") == mark:
        return HttpResponseNotModified(headers=headers)
    body = _written.get(mark)
    if body is None:
        body = _written[mark] = write().model_dump_json().encode()
        while len(_written) > MOST:
            _written.popitem(last=False)
    return HttpResponse(body, content_type="application/json; charset=utf-8", headers=headers)


def forget() -> None:
    """Write everything anew: something was changed under it, which no maker does."""
    _written.clear()
