"""A link of one use that lets its holder in, for systems that do not tell whose a connection is, and for another
browser's user.
"""

import hashlib
import os
import secrets

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect

from toadbell.people.models import SignedIn
from toadbell.shed.models import Maker
from toadbell.site.pages import told

FILE = settings.DATA_DIR / "link-of-one-use"


def new_link(port: int) -> str:
    """A fresh link; an older one is worth nothing from now on. What is kept is its hash."""
    secret = secrets.token_urlsafe(24)
    part = FILE.with_suffix(".part")
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
        file.write(_hash(secret))
    part.replace(FILE)
    return f"http://127.0.0.1:{port}/enter/{secret}"


def enter(request: HttpRequest, secret: str) -> HttpResponse:
    """Let the holder in, once; on this machine alone: from the network phones come by words."""
    if request.is_secure():
        return told("That link is for the workshop's own machine", "A phone comes in by the words on its screen.", 403)
    try:
        kept = FILE.read_text()
    except OSError:
        kept = ""
    if not kept or not secrets.compare_digest(kept, _hash(secret)):
        return told(
            "This link was used already, or is an old one", "Ask for a new one where Toad Bell runs: make link", 403
        )
    FILE.unlink(missing_ok=True)
    SignedIn.begin(request, Maker.local_owner(), "a browser let in by a link")
    return HttpResponseRedirect("/")


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
