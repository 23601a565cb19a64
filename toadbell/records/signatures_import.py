"""Signatures on their way in: taken in only with the very record that was signed, and as far as a key vouches for them.

What no key vouches for is a statement on paper. A signature by somebody of this workshop is taken in only where this
workshop's own key vouches for it, and what is here already is never changed.
"""

import datetime
import io
import json
import uuid
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from uuid import UUID

from toadbell.records import workshop_key
from toadbell.records.attachments import lay_whole
from toadbell.records.models import KnownKey
from toadbell.records.package_reader import PackageReader, maybe, moment, of, wrong
from toadbell.records.sealed import SEAL, sealed_path
from toadbell.records.zip_files import digest
from toadbell.shed.models import Maker
from toadbell.trials.models import Beside, Signature, Trial

SIGNATURES, BESIDE = "signatures.csv", "beside.csv"
Person = Callable[[UUID], Maker]


def check_seals(package: PackageReader) -> None:
    """Hold every record that a signature seals against what was signed. Raises SheetError where one was changed."""
    for row in package.rows(SIGNATURES, "signatures") if SIGNATURES in package.known else ():
        with of(SIGNATURES):
            if row["seal"]:
                _check(package, row["seal"], str(UUID(row["trial"])), row["name"])
            if not _stands(row):
                raise wrong(
                    f"the signature of {row['name']} is not what a key vouched for: it was changed after it was given"
                )
    for row in package.rows(BESIDE, "beside") if BESIDE in package.known else ():
        if not _stands(row):
            raise wrong("a note beside a sealed record is not what a key vouched for: it was changed")


def _check(package: PackageReader, seal: str, trial: str, name: str) -> None:
    path, folder = f"sealed/{seal}.zip", f"trials/{trial}/"
    if not SEAL.fullmatch(seal) or path not in package.known or package.known[path].hash != f"sha256:{seal}":
        raise wrong(f"the record that {name} signed is not in it as it was signed: its seal is broken")
    try:
        with zipfile.ZipFile(io.BytesIO(package.data(path))) as sealed:
            signed = {one: digest(sealed.read(one)) for one in sealed.namelist() if one.startswith(folder)}
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError):
        raise wrong(f"the record that {name} signed cannot be opened") from None
    beside = {one: resource.hash for one, resource in package.known.items() if one.startswith(folder)}
    if signed != beside or not signed:
        changed = sorted(one for one in {*signed, *beside} if signed.get(one) != beside.get(one))
        where = f"“{changed[0]}”" if changed else "the trial"
        raise wrong(f"{where} was changed after {name} signed it: the seal does not hold")


def _stands(row: dict[str, str]) -> bool:
    """Does the key that is named vouch for the row as it stands? True where none is named."""
    if not row["key"] and not row["vouched"]:
        return True
    stated = {name: value for name, value in row.items() if name not in ("key", "vouched")}
    return workshop_key.vouched(stated, row["key"], row["vouched"])


@dataclass
class Kept:
    """What was kept of signatures: how many, the sealed packages that were laid down, and what was left out and why."""

    count: int = 0
    laid: list[Path] = field(default_factory=list)
    left: list[str] = field(default_factory=list)

    def take_back(self) -> None:
        """Take the files away again."""
        for path in self.laid:
            path.unlink(missing_ok=True)


def take_in(package: PackageReader, person: Person, same: set[uuid.UUID], kept: Kept) -> None:
    """Keep the signatures of trials that are here just as they are in the package, with what was written beside them.

    same  the trials that are new, or the same here
    """
    if SIGNATURES in package.known:
        here = set(Signature.objects.values_list("pk", flat=True))
        with of(SIGNATURES):
            for row in package.rows(SIGNATURES, "signatures"):
                if UUID(row["id"]) in here:
                    continue
                if UUID(row["trial"]) not in same:
                    kept.left.append(
                        f"The signature of {row['name']} is of a trial that differs here, and is left out."
                    )
                elif _of_ours(row) and not _by_our_key(row):
                    kept.left.append(
                        f"{row['name']} is of this workshop, and its key does not vouch for that signature: it is left "
                        "out. Ask them to sign here."
                    )
                else:
                    _take(package, row, person, kept)
        kept.left += _met(package)
    if BESIDE in package.known:
        known = set(Beside.objects.values_list("pk", flat=True))
        with of(BESIDE):
            for row in package.rows(BESIDE, "beside"):
                if UUID(row["id"]) in known or UUID(row["trial"]) not in same:
                    continue
                if Maker.of_the_workshop().filter(uid=UUID(row["by"])).exists() and not _by_our_key(row):
                    kept.left.append("A note of somebody of this workshop beside a sealed record is left out.")
                else:
                    Beside.objects.create(
                        id=UUID(row["id"]),
                        trial=Trial.objects.get(pk=row["trial"]),
                        text=row["text"][:2000],
                        by=person(UUID(row["by"])),
                        at=moment(row["at"]),
                        key=row["key"],
                        vouched=row["vouched"],
                    )
                    kept.count += 1


def _of_ours(row: dict[str, str]) -> bool:
    """Is it somebody of this workshop who is said to have signed, or was asked, by id or by name?"""
    uid = maybe(row["of"], UUID)
    ours = uid is not None and Maker.of_the_workshop().filter(uid=uid).exists()
    return ours or Maker.called(row["name"]) is not None


def _by_our_key(row: dict[str, str]) -> bool:
    own = KnownKey.objects.filter(own=True).values_list("public", flat=True)
    return bool(row["key"]) and row["key"] in {workshop_key.own_public(), *own}


def _met(package: PackageReader) -> list[str]:
    """Remember the keys that vouch for something in it, and say which of them were never met before."""
    ours, found = workshop_key.own_public(), []
    for public in sorted({row["key"] for row in package.rows(SIGNATURES, "signatures") if row["key"]} - {ours}):
        known = KnownKey.objects.filter(public=public).first()
        read = workshop_key.fingerprint(public)
        if known is None:
            KnownKey.objects.create(public=public, title=package.listed.title[:200])
            found.append(
                f"A workshop that was never met before vouches for signatures in it, by the key {read}. Ask them to "
                "read theirs to you: only then do you know that it is theirs."
            )
        elif not known.own:
            found.append(f"The key {read}, known since {known.met_at:%d %B %Y}, vouches for signatures in it.")
    return found


def _take(package: PackageReader, row: dict[str, str], person: Person, kept: Kept) -> None:
    saw = json.loads(row["saw"] or "[]")
    if row["role"] not in Signature.Role.values or not isinstance(saw, list):
        raise ValueError(row["role"])
    signed_at: datetime.datetime | None = maybe(row["signed_at"], moment)
    if (signed_at is None) != (not row["seal"]):
        raise ValueError("signed and sealed go together")
    of_whom, written = maybe(row["of"], UUID), maybe(row["written_by"], UUID)
    how = row["how"] if row["how"] in Signature.How.values else ""
    if signed_at is not None and not row["key"]:
        how = Signature.How.PAPER  # nobody vouches that they signed by their own hand
    Signature.objects.create(
        **{
            "id": UUID(row["id"]),
            "trial": Trial.objects.get(pk=row["trial"]),
            "role": row["role"],
            "name": row["name"][:150],
            "of": person(of_whom) if of_whom else None,
            "asked_by": person(UUID(row["asked_by"])),
            "asked_at": moment(row["asked_at"]),
            "how": how,
            "saw": [str(one)[:60] for one in saw],
            "remarks": row["remarks"][:2000],
            "approved": {"true": True, "false": False}.get(row["approved"]),
            "signed_at": signed_at,
            "written_by": person(written) if written else None,
            "seal": row["seal"],
            "key": row["key"],
            "vouched": row["vouched"],
        },
    )
    kept.count += 1
    if row["seal"] and not sealed_path(row["seal"]).exists():
        sealed_path(row["seal"]).parent.mkdir(parents=True, exist_ok=True)
        kept.laid.append(sealed_path(row["seal"]))
        lay_whole(sealed_path(row["seal"]), iter([package.data(f"sealed/{row['seal']}.zip")]))
