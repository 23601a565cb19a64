"""Signatures on their way in: taken in only with the very record that was signed."""

import datetime
import io
import json
import uuid
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from uuid import UUID

from toadbell.records.attachments import lay_whole
from toadbell.records.package_reader import PackageReader, maybe, moment, of, wrong
from toadbell.records.sealed import SEAL, sealed_path
from toadbell.records.zip_files import digest
from toadbell.shed.models import Maker
from toadbell.trials.models import Beside, Signature, Trial

SIGNATURES, BESIDE = "signatures.csv", "beside.csv"
Person = Callable[[UUID], Maker]


def check_seals(package: PackageReader) -> None:
    """Hold every record that a signature seals against what was signed. Raises SheetError where one was changed."""
    if SIGNATURES not in package.known:
        return
    for row in package.rows(SIGNATURES, "signatures"):
        if row["seal"]:
            with of(SIGNATURES):
                _check(package, row["seal"], str(UUID(row["trial"])), row["name"])


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
        here = {one.pk: one for one in Signature.objects.all()}
        with of(SIGNATURES):
            for row in package.rows(SIGNATURES, "signatures"):
                if UUID(row["trial"]) not in same:
                    kept.left.append(
                        f"The signature of {row['name']} is of a trial that differs here, and is left out."
                    )
                elif UUID(row["id"]) not in here or not here[UUID(row["id"])].signed:
                    _take(package, row, person, kept)
    if BESIDE in package.known:
        known = set(Beside.objects.values_list("pk", flat=True))
        with of(BESIDE):
            for row in package.rows(BESIDE, "beside"):
                if UUID(row["id"]) not in known and UUID(row["trial"]) in same:
                    Beside.objects.create(
                        id=UUID(row["id"]),
                        trial=Trial.objects.get(pk=row["trial"]),
                        text=row["text"][:2000],
                        by=person(UUID(row["by"])),
                        at=moment(row["at"]),
                    )
                    kept.count += 1


def _take(package: PackageReader, row: dict[str, str], person: Person, kept: Kept) -> None:
    saw = json.loads(row["saw"] or "[]")
    if row["role"] not in Signature.Role.values or not isinstance(saw, list):
        raise ValueError(row["role"])
    signed_at: datetime.datetime | None = maybe(row["signed_at"], moment)
    if (signed_at is None) != (not row["seal"]):
        raise ValueError("signed and sealed go together")
    of_whom, written = maybe(row["of"], UUID), maybe(row["written_by"], UUID)
    Signature.objects.update_or_create(
        id=UUID(row["id"]),
        defaults={
            "trial": Trial.objects.get(pk=row["trial"]),
            "role": row["role"],
            "name": row["name"][:150],
            "of": person(of_whom) if of_whom else None,
            "asked_by": person(UUID(row["asked_by"])),
            "asked_at": moment(row["asked_at"]),
            "how": row["how"] if row["how"] in Signature.How.values else "",
            "saw": [str(one)[:60] for one in saw],
            "remarks": row["remarks"][:2000],
            "approved": {"true": True, "false": False}.get(row["approved"]),
            "signed_at": signed_at,
            "written_by": person(written) if written else None,
            "seal": row["seal"],
        },
    )
    kept.count += 1
    if row["seal"] and not sealed_path(row["seal"]).exists():
        sealed_path(row["seal"]).parent.mkdir(parents=True, exist_ok=True)
        kept.laid.append(sealed_path(row["seal"]))
        lay_whole(sealed_path(row["seal"]), iter([package.data(f"sealed/{row['seal']}.zip")]))
