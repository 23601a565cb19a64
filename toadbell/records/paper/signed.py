"""Second signatures on paper: who saw what, whether they approve, and the seal."""

from reportlab.platypus import Flowable

from toadbell.records.paper.pieces import day, facts, part
from toadbell.records.signing_api import SignatureOut, SigningOut

_LINE = "signature: ____________________   day: ____________"


def signatures(signing: SigningOut, width: float) -> list[Flowable]:
    """The part of a report that says who signed; nothing where nobody was asked."""
    if not signing.signatures:
        return []
    rows = [(f"{one.name}, {one.role}", _says(one)) for one in signing.signatures]
    if signing.seal:
        parts = " ".join(signing.seal[at : at + 8] for at in range(0, 64, 8))
        held = {True: "", False: " The package here is not what was signed.", None: " The package is gone here."}
        rows.append(("Sealed", f"SHA-256 {parts}.{held[signing.holds]}"))
    rows += [(f"Beside it, {day(one.at)}", f"{one.text} ({one.by})") for one in signing.beside]
    return [*part("Second signatures"), facts(rows, width, 0.24)]


def _says(one: SignatureOut) -> str:
    if one.signed_at is None:
        return f"asked on {day(one.asked_at)}, not signed. {_LINE}"
    seen = f"saw {', '.join(one.saw)}" if one.saw else "saw none of it"
    verdict = {True: "; approves", False: "; DOES NOT APPROVE", None: ""}[one.approved]
    return f"{seen}{verdict}. {one.remarks} Signed on {day(one.signed_at)}, {one.how}; {one.vouched}."
