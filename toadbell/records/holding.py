"""Does a signed record hold: is its package what was signed, do its rows say the same, and who vouches for it?"""

import csv
import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

from toadbell.records import package, workshop_key
from toadbell.records.models import KnownKey
from toadbell.records.sealed import seal_holds, sealed_path, stated
from toadbell.trials.models import Beside, Signature, Trial

SOON = 20_000
"""A record of so many readings is compared while somebody waits; of a longer one only its package is looked at, and its
rows by `toadbell doctor`.
"""


def why_not(trial: Trial, seal: str, *, whole: bool = False) -> str | None:
    """Why a signed record does not hold, in a sentence; None where it does.

    whole  compare its rows however many there are
    """
    held = seal_holds(seal)
    if held is None:
        return "The package that was signed is not here any more."
    if not held:
        return "The package that was signed was changed since."
    written: list[tuple[str, Signature | Beside]] = [(one.name, one) for one in trial.signatures.exclude(seal="")]
    written += [(one.by.shown_name, one) for one in trial.beside.select_related("by")]
    for who, one in written:
        if not _stands(one):
            return f"What stands here of {who} is not what was vouched for when it was written: it was changed since."
    return differs(trial, seal) if whole or compared_here(trial) else None


def compared_here(trial: Trial) -> bool:
    """Are its rows compared while somebody waits? Of a longer record that is left to the doctor, and said."""
    return trial.readings.count() <= SOON


def _stands(one: Signature | Beside) -> bool:
    return not one.key or workshop_key.vouched(stated(one), one.key, one.vouched)


def who_vouches(one: Signature) -> str:
    """Who vouches for a signature, in words; "" where nobody signed yet."""
    if not one.signed:
        return ""
    if not one.key:
        return "no workshop's key vouches for it: a statement on paper"
    known = KnownKey.objects.filter(public=one.key).first()
    read = workshop_key.fingerprint(one.key)
    if known is not None and known.own:
        return f"this workshop's key vouches for it: {read}"
    since = "never met before" if known is None else f"met on {known.met_at:%d %B %Y}"
    return f"another workshop's key vouches for it, {since}: {read}"


def differs(trial: Trial, seal: str) -> str | None:
    """What of a trial is not as it was signed: the file and the row; None where all of it is.

    What a later release writes beside it is not asked: only what was signed has to stand.
    """
    folder = f"trials/{trial.pk}/"
    with zipfile.ZipFile(sealed_path(seal)) as sealed:
        signed = {name for name in sealed.namelist() if name.startswith(folder) and name.endswith((".csv", ".json"))}
        for part in package.parts_of(trial):
            if part.path not in signed:
                continue
            signed.discard(part.path)
            with sealed.open(part.path) as was, io.TextIOWrapper(was, "utf-8", newline="") as text:
                found = _row(text, part.pieces) if part.path.endswith(".csv") else _value(text.read(), part.pieces)
            if found is not None:
                return f"{part.path.removeprefix(folder)}, {found} is not as it was signed."
    return f"{min(signed).removeprefix(folder)} is gone since it was signed." if signed else None


def _row(was: Iterator[str], pieces: Any) -> str | None:
    """The first row of a table that is another now, or more, or less."""
    now = csv.DictReader(_lines(pieces))
    line = 1
    for line, before in enumerate(csv.DictReader(was), 2):
        after = next(now, None)
        if after is None or any(after.get(key) != value for key, value in before.items() if key in after):
            return f"row {line}"
    return None if next(now, None) is None else f"row {line + 1}"


def _lines(pieces: Any) -> Iterator[str]:
    rest = ""
    for piece in pieces:
        *whole, rest = (rest + piece.decode()).split("\n")
        yield from (line + "\n" for line in whole)
    if rest:
        yield rest


def _value(was: str, pieces: Any) -> str | None:
    """Where a JSON file says something else now."""
    return _apart(json.loads(was), json.loads(b"".join(pieces)), "")


def _apart(was: Any, now: Any, where: str) -> str | None:
    if isinstance(was, dict) and isinstance(now, dict):
        return next((f for key in was if key in now and (f := _apart(was[key], now[key], f"{where}.{key}"))), None)
    if isinstance(was, list) and isinstance(now, list) and len(was) == len(now):
        each = enumerate(zip(was, now, strict=True))
        return next((f for n, (a, b) in each if (f := _apart(a, b, f"{where}.{n}"))), None)
    return None if was == now else f"“{where.removeprefix('.')}”"
