"""What is said once of the workshop itself, over the wire."""

from django.http import HttpRequest
from ninja import Field, Router, Schema

from toadbell.shed.models import Workshop

router = Router()


class WorkshopOut(Schema):
    """How high it stands above the sea, as it was written; null where nobody said."""

    altitude: str | None


class WorkshopIn(Schema):
    """How high it stands above the sea, with its unit; null takes that back."""

    altitude: str | None = Field(default=None, max_length=40)


@router.get("/workshop", response=WorkshopOut)
def workshop(request: HttpRequest) -> WorkshopOut:
    """What is said of it."""
    return WorkshopOut(altitude=Workshop.here().altitude or None)


@router.put("/workshop", response=WorkshopOut)
def workshop_stands(request: HttpRequest, data: WorkshopIn) -> WorkshopOut:
    """Say how high it stands: plans that are not frozen yet reckon with it from now on."""
    return WorkshopOut(altitude=Workshop.stands((data.altitude or "").strip()).altitude or None)
