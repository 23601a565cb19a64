"""The demo workshop for tests that only need it to be there: worked out once, and put back as it was after that."""

from django.conf import settings

from tests.once import once
from toadbell.records import demo


def hang_up_the_wharf() -> None:
    """Hang up the demo workshop in an empty database."""
    once("the wharf", lambda: demo.load(settings.BASE_DIR / "demo"))
