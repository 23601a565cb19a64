"""Second signatures: by whose hand, what they stand for, the seal, and what becomes of both in a package."""

import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from django.utils import timezone

from tests.server.conftest import Workshop, held
from tests.server.test_people import PIN, person, phone, taken_in
from toadbell.core.sheets import SheetError
from toadbell.records import package
from toadbell.records.models import Attachment
from toadbell.records.package_import import take_in
from toadbell.records.sealed import sealed_path
from toadbell.shed.models import Care, Maker
from toadbell.trials.models import Beside, Signature, Trial

pytestmark = pytest.mark.django_db


@pytest.fixture(autouse=True)
def folder(tmp_path: Any, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Sealed packages of a test lie in a folder of its own."""
    monkeypatch.setattr(Attachment, "FOLDER", tmp_path / "attachments")
    return


def decided(workshop: Workshop, fitness: str = "fit") -> str:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": fitness, "pressure": "8.5 bar"})
    return trial


def asked(workshop: Workshop, trial: str, who: str = "Ines Quill", role: str = "inspector") -> Any:
    one = taken_in(workshop, who, role if role == "inspector" else "watcher")
    told = workshop.post(f"/trials/{trial}/signatures", {"role": role, "person": one["id"]})
    return one, told["signatures"][-1]["id"]


def carried(trial: str) -> bytes:
    out = io.BytesIO()
    package.write(out, Trial.objects.select_related("vessel").get(pk=trial), timezone.now())
    return out.getvalue()


def with_file(data: bytes, path: str, change: Any) -> bytes:
    """A package with one of its files changed, and its list made to fit."""
    files = {}
    with zipfile.ZipFile(io.BytesIO(data)) as before:
        files = {name: before.read(name) for name in before.namelist()}
    files[path] = change(files[path])
    listed = json.loads(files["datapackage.json"])
    for one in listed["resources"]:
        if one["path"] == path:
            one["bytes"], one["hash"] = len(files[path]), f"sha256:{hashlib.sha256(files[path]).hexdigest()}"
    files["datapackage.json"] = json.dumps(listed).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as after:
        for name, content in files.items():
            after.writestr(name, content)
    return out.getvalue()


def emptied() -> None:
    """Another workshop, which knows nothing of this one's records."""
    Signature.objects.all().delete()
    Beside.objects.all().delete()
    for trial in Trial.objects.all():
        trial.findings.all().delete()
        trial.events.all().delete()
        trial.readings.all().delete()
        for name in ("decision", "verdict"):
            if hasattr(trial, name):
                getattr(trial, name).delete()
        trial.delete()
    Care.objects.all().delete()


def test_an_inspector_signs_on_their_own_phone_and_the_record_shows_what_they_saw(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    there = phone(one["id"])
    shown = there.get(f"/trials/{trial}/signatures")
    assert shown["signatures"][0]["mine"]
    stages = [stage["id"] for stage in shown["stages"]]
    assert stages[-1] == "hold"
    there.post(f"/trials/{trial}/signature", {"id": signature, "saw": stages[-2:], "approved": True})
    kept = workshop.get(f"/records/{trial}")["signing"]
    assert kept["signatures"][0]["saw"] == [stage["name"] for stage in shown["stages"][-2:]]
    assert (kept["signatures"][0]["how"], kept["signatures"][0]["approved"]) == (
        "by their own hand, on their own phone",
        True,
    )
    sealed = workshop.client.get(f"/api/trials/{trial}/sealed.zip").getvalue()
    assert hashlib.sha256(sealed).hexdigest() == kept["seal"]
    assert kept["holds"] is True


def test_nobody_signs_for_somebody_else(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    body = {"id": signature, "saw": ["hold"], "approved": True}
    workshop.post(f"/trials/{trial}/signature", body, status=409)  # the owner ran it
    workshop.post(f"/trials/{trial}/signature", {**body, "person": one["id"]}, status=409)  # no PIN: anybody could
    workshop.post(f"/people/{one['id']}/secret", {"secret": PIN})
    workshop.post(f"/trials/{trial}/signature", {**body, "person": one["id"], "secret": "000000"}, status=409)
    assert not Signature.objects.get().signed
    workshop.post(f"/trials/{trial}/signature", {**body, "person": one["id"], "secret": PIN})
    assert Signature.objects.get().how == "here"


def test_who_planned_or_ran_it_is_no_second_pair_of_eyes(workshop: Workshop) -> None:
    trial = decided(workshop)
    owner = person(workshop, "Owner")
    workshop.post(f"/people/{owner['id']}/secret", {"secret": PIN})
    told = workshop.post(f"/trials/{trial}/signatures", {"role": "witness", "person": owner["id"]})
    body = {"id": told["signatures"][0]["id"], "saw": ["hold"], "secret": PIN}
    assert "somebody else's" in workshop.post(f"/trials/{trial}/signature", body, status=409)["says"]


def test_a_record_is_signed_when_it_is_over_and_says_something(workshop: Workshop) -> None:
    trial = held(workshop)
    one, signature = asked(workshop, trial)
    there, body = phone(one["id"]), {"id": signature, "saw": ["hold"], "approved": True}
    assert "after the decision" in there.post(f"/trials/{trial}/signature", body, status=409)["says"]
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar"})
    there.post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"]}, status=409)  # approved or not?
    there.post(f"/trials/{trial}/signature", {"id": signature, "approved": True}, status=409)  # nothing seen or said
    there.post(f"/trials/{trial}/signature", {**body, "approved": False}, status=409)  # and what is not right?
    there.post(f"/trials/{trial}/signature", {**body, "saw": ["stage of another"]}, status=409)
    there.post(f"/trials/{trial}/signature", body)
    there.post(f"/trials/{trial}/signature", body, status=409)


def test_a_vessel_that_an_inspector_does_not_approve_of_is_fit_no_longer(workshop: Workshop) -> None:
    trial = decided(workshop)
    vessel = str(Trial.objects.get(pk=trial).vessel_id)
    assert workshop.get(f"/vessels/{vessel}/ledger")["answer"] == "fit"
    one, signature = asked(workshop, trial)
    no = {"id": signature, "saw": ["hold"], "approved": False, "remarks": "the drain bush is cut"}
    phone(one["id"]).post(f"/trials/{trial}/signature", no)
    ledger = workshop.get(f"/vessels/{vessel}/ledger")
    assert ledger["answer"] == "not proven"
    assert "the drain bush is cut" in json.dumps(ledger)


def test_a_sealed_record_no_longer_changes_and_what_comes_later_stands_beside_it(workshop: Workshop) -> None:
    trial = decided(workshop)
    workshop.post(f"/trials/{trial}/beside", {"text": "too early"}, status=409)
    workshop.step(trial, "note", text="before it was signed")
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    refused = workshop.step(trial, "note", text="a word more", status=409)
    assert "signed by Ines Quill" in refused["says"]
    seal = workshop.get(f"/trials/{trial}/signatures")["seal"]
    told = workshop.post(f"/trials/{trial}/beside", {"text": "The bush was replaced in May."})
    assert [one["text"] for one in told["beside"]] == ["The bush was replaced in May."]
    assert told["seal"] == seal


def test_a_second_signature_is_over_the_same_seal(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, first = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": first, "saw": ["hold"], "approved": True})
    told = workshop.post(f"/trials/{trial}/signatures", {"role": "witness", "name": "Bran Teal, next door"})
    paper = next(one["id"] for one in told["signatures"] if one["role"] == "witness")
    workshop.post(f"/trials/{trial}/signatures/{paper}/paper", {"saw": ["hold"], "remarks": "held my watch to it"})
    assert len(set(Signature.objects.values_list("seal", flat=True))) == 1
    assert Signature.objects.get(pk=paper).how == "paper"


def test_a_signed_record_is_carried_away_and_taken_in_with_its_seal(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    workshop.post(f"/trials/{trial}/beside", {"text": "The bush was replaced in May."})
    data, before = carried(trial), workshop.get(f"/trials/{trial}/signatures")
    emptied()
    sealed_path(before["seal"]).unlink()
    assert take_in(io.BytesIO(data), dry=True).signatures == 2
    assert not sealed_path(before["seal"]).exists()
    take_in(io.BytesIO(data), dry=False)
    after = workshop.get(f"/trials/{trial}/signatures")
    assert (after["seal"], after["holds"], after["beside"]) == (before["seal"], True, before["beside"])
    assert after["signatures"][0]["signed_at"] == before["signatures"][0]["signed_at"]
    assert take_in(io.BytesIO(carried(trial)), dry=True).changes is False


@pytest.mark.parametrize("path", ["trial.json", "events.csv", "readings.csv"])
def test_a_record_that_was_changed_after_it_was_signed_is_refused(workshop: Workshop, path: str) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    data = with_file(carried(trial), f"trials/{trial}/{path}", lambda before: before.replace(b"1", b"2", 1))
    emptied()
    with pytest.raises(SheetError, match="the seal does not hold"):
        take_in(io.BytesIO(data), dry=False)
    assert not Trial.objects.exists()


def test_a_seal_that_was_put_under_another_package_is_refused(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    seal = Signature.objects.get().seal
    data = with_file(carried(trial), f"sealed/{seal}.zip", lambda before: before + b" ")
    emptied()
    with pytest.raises(SheetError, match="its seal is broken"):
        take_in(io.BytesIO(data), dry=False)


def test_practice_is_not_signed_and_a_signature_stays(workshop: Workshop) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    workshop.post(f"/trials/{trial}/signatures", {"role": "inspector", "person": one["id"]}, status=409)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    workshop.send("DELETE", f"/trials/{trial}/signatures/{signature}", status=409)
    Trial.objects.filter(pk=trial).update(source="rig")
    workshop.post(f"/trials/{trial}/signatures", {"role": "witness", "name": "Bran Teal"}, status=409)
    assert Maker.objects.filter(first_name="Ines Quill").exists()


def test_the_paper_says_who_signed_and_leaves_a_line_for_who_has_not(workshop: Workshop) -> None:
    from pypdf import PdfReader

    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    workshop.post(f"/trials/{trial}/signatures", {"role": "witness", "name": "Bran Teal"})
    phone(one["id"]).post(
        f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True, "remarks": "Sound work."}
    )
    pdf = workshop.client.get(f"/api/records/{trial}/report.pdf").content
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages)
    assert "Ines Quill, inspector" in text
    assert "Sound work." in text
    assert "not signed" in text


def test_what_is_written_while_it_is_packed_is_never_left_out_of_what_is_signed(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    there, body = phone(one["id"]), {"id": signature, "saw": ["hold"], "approved": True}
    pack = package.write

    def while_somebody_writes(*args: Any, **options: Any) -> None:
        pack(*args, **options)
        workshop.step(trial, "note", text="in the very moment")

    with monkeypatch.context() as meanwhile:
        meanwhile.setattr(package, "write", while_somebody_writes)
        assert "sign again" in there.post(f"/trials/{trial}/signature", body, status=409)["says"]
    assert not Signature.objects.get().signed
    there.post(f"/trials/{trial}/signature", body)
    seal = Signature.objects.get().seal
    with zipfile.ZipFile(sealed_path(seal)) as sealed:
        assert b"in the very moment" in sealed.read(f"trials/{trial}/events.csv")
