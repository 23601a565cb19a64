"""The demo workshop for tests that only need it to be there: worked out once, and brought back from its own package after that."""

import io

from django.conf import settings
from django.utils import timezone

from toadbell.records import demo, package, package_import

_kept: list[bytes] = []


def hang_up_the_wharf() -> None:
    """Hang up the demo workshop in an empty database."""
    if _kept:
        package_import.take_in(io.BytesIO(_kept[0]), dry=False)
        return
    demo.load(settings.BASE_DIR / "demo")
    out = io.BytesIO()
    package.write(out, None, timezone.now())
    _kept.append(out.getvalue())
