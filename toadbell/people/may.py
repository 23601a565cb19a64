"""Who may do what over the wire: one table, and what is not in it is for whoever works here."""

import re

from toadbell.people.models import SignedIn
from toadbell.shed.people import Maker, Role

_ONE = r"[0-9a-f-]{36}"
OWNERS = re.compile(rf"/api/(share|invitations(/{_ONE})?|people(/{_ONE})?(/left)?|jobs(/.*)?|backups(/.*)?|calendar)")
"""What only an owner does: who is let in and how, what is carried away whole, backed up and put back."""
EVERYBODYS = re.compile(
    rf"/api/(me|join|switch|sign-out|forget|quantities/read|vessels/look|people/{_ONE}/secret|signed-in/{_ONE}/end"
    rf"|trials/{_ONE}/(look|stop|judge/what-if|signature))"
)
"""What whoever is let in may send: it changes nothing of a vessel or a run, or it is their own hand."""
READ_BY_ALL = re.compile(rf"/api/(people|share|jobs/{_ONE})")
"""What of an owner's is read by everybody: who there is, whether the door is open, how far a job is."""
_OF_A_TRIAL = re.compile(rf"/api/trials/({_ONE})/(?!look$)")
READING = ("GET", "HEAD", "OPTIONS")


def refusal(maker: Maker, at: SignedIn | None, method: str, path: str) -> str | None:
    """Why somebody may not do this, in a sentence; None where they may.

    at  what they signed in with; None for the owner on the workshop's own machine
    """
    reads = method in READING
    if OWNERS.fullmatch(path) and not (reads and READ_BY_ALL.fullmatch(path)):
        return None if maker.role == Role.OWNER and (at is None or at.trial_id is None) else _OWNERS_ALONE
    if reads:
        return None
    run = _OF_A_TRIAL.match(path)
    if run and at is not None and at.trial_id is not None and run[1] != str(at.trial_id):
        return f"This phone was let in for one run, and may lay hands on that alone. {_ASK}"
    if EVERYBODYS.fullmatch(path):
        return None
    if not maker.works:
        return f"You are let in as {maker.get_role_display()}: you see everything, and may call stop. {_ASK}"
    if at is not None and at.trial_id is not None and not path.startswith(f"/api/trials/{at.trial_id}/"):
        return f"This phone was let in for one run, and may lay hands on that alone. {_ASK}"
    return None


_ASK = "To do more, ask the owner of the workshop."
_OWNERS_ALONE = "That is for the owner of the workshop alone."
