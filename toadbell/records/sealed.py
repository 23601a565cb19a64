"""Sealed records: where their packages lie, whether they are what was signed, and how they go into a package."""

import hashlib
import json
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from toadbell.records.models import Attachment
from toadbell.records.package_shapes import TABLES
from toadbell.records.zip_files import PIECE
from toadbell.trials.models import Beside, Signature

ENDING = ".sealed.zip"
SEAL = re.compile(r"[0-9a-f]{64}")


def sealed_path(seal: str) -> Path:
    """Where the package lies that a seal is of."""
    return Path(Attachment.FOLDER / f"{seal}{ENDING}")


def seal_holds(seal: str) -> bool | None:
    """Is the sealed package what was signed? None where its file is gone."""
    try:
        with sealed_path(seal).open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest() == seal
    except OSError:
        return None


def as_sealed(seal: str, folder: str) -> list[tuple[str, Iterator[bytes]]]:
    """The files in a folder of a sealed package, a piece at a time; none where it is gone, or is not what was signed.

    A record is carried away as it was signed, by whichever release.
    """
    if not seal_holds(seal):
        return []
    with zipfile.ZipFile(sealed_path(seal)) as sealed:
        names = [name for name in sealed.namelist() if name.startswith(f"{folder}/")]
    return [(name, _pieces(seal, name)) for name in names]


def _pieces(seal: str, name: str) -> Iterator[bytes]:
    with zipfile.ZipFile(sealed_path(seal)) as sealed, sealed.open(name) as file:
        while piece := file.read(PIECE):
            yield piece


def signature_row(one: Signature) -> list[Any]:
    """A signature as it lies in a package, with the key that vouches for it."""
    return [*_signature(one), one.key, one.vouched]


def beside_row(one: Beside) -> list[Any]:
    """What was written beside a sealed record, as it lies in a package."""
    return [*_beside(one), one.key, one.vouched]


def stated(one: Signature | Beside) -> dict[str, str]:
    """What a key vouches for: the same row without the key, all as text."""
    table, row = ("signatures", _signature(one)) if isinstance(one, Signature) else ("beside", _beside(one))
    return {each["name"]: str(value) for each, value in zip(TABLES[table], row, strict=False)}


def _signature(one: Signature) -> list[Any]:
    approved = {True: "true", False: "false", None: ""}[one.approved]
    return [
        one.id,
        one.trial_id,
        one.role,
        one.name,
        one.of.uid if one.of else "",
        one.asked_by.uid,
        one.asked_at.isoformat(),
        one.how,
        json.dumps(one.saw),
        one.remarks,
        approved,
        one.signed_at.isoformat() if one.signed_at else "",
        one.written_by.uid if one.written_by else "",
        one.seal,
    ]


def _beside(one: Beside) -> list[Any]:
    return [one.id, one.trial_id, one.text, one.by.uid, one.at.isoformat()]
