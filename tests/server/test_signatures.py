"""Second signatures: by whose hand, what they stand for, the seal, and what becomes of both in a package."""

import csv
import hashlib
import io
import json
import uuid
import zipfile
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey
from django.apps import apps
from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import transaction
from django.utils import timezone

from tests.server.conftest import Workshop, held
from tests.server.test_attachments import picture
from tests.server.test_people import PIN, person, phone, taken_in
from toadbell.core.sheets import SheetError
from toadbell.records import package
from toadbell.records.attachments import About, keep, keep_at_the_bench
from toadbell.records.doctor import found_wrong
from toadbell.records.models import Attachment, KnownKey
from toadbell.records.package_import import take_in
from toadbell.records.sealed import sealed_path
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Care, Maker
from toadbell.trials.bench.devices import listen
from toadbell.trials.judge.judging import decide, judge
from toadbell.trials.models import Beside, Chain, Decision, Device, Event, Finding, Reading, Signature, State, Trial
from toadbell.trials.models.sealing import PartOfARecord

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


# -- what is signed stays as it was signed -----------------------------------------------------------------------------


def signed(workshop: Workshop) -> str:
    """A record that its inspector approved of."""
    trial = decided(workshop)
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    return trial


def record_in(data: bytes, trial: str) -> dict[str, bytes]:
    """The files of a trial in a package."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist() if name.startswith(f"trials/{trial}/")}


def test_whatever_is_part_of_a_record_passes_the_one_check_that_it_is_not_signed() -> None:
    """A model that tells of a trial is a part of its record, or is named here with why it is none."""
    beside_it = {"Signature", "Beside", "Chain", "Device", "SignedIn", "Invitation"}
    of_trials = {
        model.__name__
        for model in apps.get_models()
        if any(
            field.is_relation and field.related_model is Trial and field.concrete for field in model._meta.get_fields()
        )
        and model is not Trial
    }
    parts = {model.__name__ for model in apps.get_models() if issubclass(model, PartOfARecord)}
    assert of_trials - beside_it == parts


def test_nothing_is_added_to_a_signed_record_by_any_door(workshop: Workshop) -> None:
    trial = signed(workshop)
    found, owner, at = Trial.objects.get(pk=trial), Maker.local_owner(), timezone.now()
    before = record_in(carried(trial), trial)
    reading = Reading(id=uuid.uuid4(), trial=found, at=at, pressure=1e5, source="dial")
    doors: list[Callable[[], object]] = [
        lambda: found.log("note", owner, text="a word more"),
        lambda: found.enter(State.JUDGED, "judged", owner),
        lambda: found.take([reading]),
        lambda: Reading.objects.bulk_create([reading]),
        lambda: decide(found, owner, "fit", "8 bar", "bold"),
        lambda: judge(found, owner),
        lambda: Finding.objects.create(trial=found, at=at, owner="rig", where="hose"),
        lambda: keep_at_the_bench(found, owner, uuid.uuid4(), picture(), "late"),
        lambda: keep(About(found.vessel, trial=found), owner, uuid.uuid4(), picture(), "on its way"),
        lambda: listen(found, Device.hang_up("tank logger", owner)[0], False, owner),
    ]
    for n, door in enumerate(doors):
        with pytest.raises(NotNow), transaction.atomic():
            door()
        assert (n, workshop.get(f"/trials/{trial}/signatures")["holds"]) == (n, True)
    assert record_in(carried(trial), trial) == before


def test_what_was_acknowledged_before_it_was_signed_is_answered_as_before(workshop: Workshop) -> None:
    """A phone that never heard the answer sends its note and its reading again."""
    trial, event = decided(workshop), str(uuid.uuid4())
    workshop.step(trial, "note", event=event, text="before it was signed")
    one, signature = asked(workshop, trial)
    phone(one["id"]).post(f"/trials/{trial}/signature", {"id": signature, "saw": ["hold"], "approved": True})
    workshop.step(trial, "note", event=event, text="before it was signed")
    kept = Reading.objects.filter(trial=trial).first()
    assert kept is not None
    assert Trial.objects.get(pk=trial).take([kept]).fresh == []


def test_a_run_that_was_ended_is_decided_before_it_is_signed(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, 2)
    workshop.step(trial, "dumped")
    one, signature = asked(workshop, trial)
    there, body = phone(one["id"]), {"id": signature, "saw": [], "remarks": "I saw it dumped", "approved": False}
    assert "decide first" in there.post(f"/trials/{trial}/signature", body, status=409)["says"]
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": None, "reason": "ended"})
    there.post(f"/trials/{trial}/signature", body)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda trial: Reading.objects.filter(trial=trial).update(pressure=9e5), "readings.csv, row 2"),
        (lambda trial: Event.objects.filter(trial=trial, kind="frozen").update(data={"x": 1}), "events.csv, row 2"),
        (lambda trial: Decision.objects.filter(trial=trial).update(fitness="limited"), "trial.json"),
        (lambda trial: Reading.objects.filter(trial=trial).last().delete(), "readings.csv, row"),
        (lambda trial: Signature.objects.filter(trial=trial).update(remarks="Very good."), "of Ines Quill"),
    ],
)
def test_a_row_that_was_changed_behind_its_back_is_named(workshop: Workshop, change: Any, says: str) -> None:
    trial = signed(workshop)
    assert workshop.get(f"/records/{trial}")["signing"]["holds_not"] is None
    change(trial)
    told = workshop.get(f"/records/{trial}")["signing"]
    assert (told["holds"], says in told["holds_not"]) == (False, True), told["holds_not"]


def test_the_doctor_finds_the_trial_whose_rows_were_changed(workshop: Workshop) -> None:
    trial, other = signed(workshop), held(workshop)
    assert list(found_wrong(thorough=False)) == []
    Reading.objects.filter(trial=other).update(temperature=300.0)
    Event.objects.filter(trial=trial, kind="note").delete()
    last = Event.objects.filter(trial=other).last()
    assert last is not None
    (one,) = found_wrong(thorough=False)
    assert "A reading was changed" in one
    Event.objects.filter(pk=last.pk).delete()
    assert any("An entry of its log was changed" in says for says in found_wrong(thorough=False))


def test_what_the_doctor_found_is_said_on_the_records_page(workshop: Workshop, monkeypatch: Any, tmp_path: Any) -> None:
    monkeypatch.setattr(settings, "DATA_DIR", tmp_path)
    trial = held(workshop)
    call_command("doctor", "--quick")
    assert workshop.get("/looked-over") == []
    Reading.objects.filter(trial=trial).update(pressure=1e5)
    with pytest.raises(CommandError, match="1 thing is wrong"):
        call_command("doctor", "--quick", stderr=io.StringIO())
    (says,) = workshop.get("/looked-over")
    assert "A reading was changed" in says


def test_the_doctor_misses_a_chain_and_a_signature_that_were_taken_away(workshop: Workshop) -> None:
    trial = signed(workshop)
    Chain.objects.filter(trial=trial).delete()
    Signature.objects.filter(trial=trial).delete()
    told = " ".join(found_wrong(thorough=False))
    assert "its chain is gone" in told
    assert "of which no signature is here any more" in told


def test_a_run_that_goes_on_meanwhile_does_not_look_changed(workshop: Workshop) -> None:
    """The end of its chain was read a while ago, and more came since."""
    trial = workshop.ready()
    workshop.raised(trial, 1)
    chain = Chain.objects.get(trial=trial)
    workshop.read(trial, "3.3 bar")
    workshop.step(trial, "note", text="a hiss, gone again")
    assert chain.broken() is None
    Reading.objects.filter(trial=trial).update(pressure=1e5)
    assert chain.broken() is not None


# -- names -------------------------------------------------------------------------------------------------------------


def test_nobody_signs_under_the_name_of_another(workshop: Workshop) -> None:
    trial = decided(workshop)
    _, signature = asked(workshop, trial)
    ask, owner = f"/trials/{trial}/signatures", Maker.local_owner()
    assert "by their own hand" in workshop.post(ask, {"role": "witness", "name": "INES  quill"}, status=409)["says"]
    body = {"saw": ["hold"], "approved": True}
    assert "by their own hand" in workshop.post(f"{ask}/{signature}/paper", body, status=409)["says"]
    with pytest.raises(NotNow, match="There is a ines quill here already"):
        owner.keep_habits("metric", "ines quill")
    told = workshop.post(ask, {"role": "witness", "name": "Bran Teal"})
    paper = next(each["id"] for each in told["signatures"] if each["on_paper"])
    there = phone(taken_in(workshop, "Wren Mallow", "watcher")["id"])
    assert "on paper" in there.post(f"/trials/{trial}/signature", {"id": paper, "saw": ["hold"]}, status=409)["says"]
    Maker.objects.filter(pk=owner.pk).update(first_name="Tobit Lisk", role="elsewhere")  # ran it, in another workshop
    with pytest.raises(NotNow, match="planned or ran"):
        Signature.ask(Trial.objects.get(pk=trial), owner, "witness", None, "tobit lisk")


def test_who_comes_back_finds_no_other_of_their_name(workshop: Workshop) -> None:
    one = taken_in(workshop, "Ines Quill", "inspector")
    first = Maker.objects.get(uid=one["id"])
    first.leave(True)
    taken_in(workshop, "Ines Quill", "maker")
    with pytest.raises(NotNow, match="There is a Ines Quill here already"):
        first.leave(False)


# -- whose key vouches -------------------------------------------------------------------------------------------------


def turned(data: bytes, trial: str, **columns: str) -> bytes:
    """A package whose one signature says something else."""

    def change(before: bytes) -> bytes:
        rows = list(csv.DictReader(io.StringIO(before.decode())))
        out = io.StringIO()
        table = csv.DictWriter(out, rows[0].keys(), lineterminator="\n")
        table.writeheader()
        table.writerows({**row, **columns} for row in rows)
        return out.getvalue().encode()

    return with_file(data, "signatures.csv", change)


def elsewhere(monkeypatch: pytest.MonkeyPatch, tmp_path: Any) -> None:
    """From now on this is another workshop: nobody and nothing of the first is known, and its key is another."""
    emptied()
    (tmp_path / "another").mkdir(exist_ok=True)
    monkeypatch.setattr(settings, "DATA_DIR", tmp_path / "another")
    KnownKey.objects.all().delete()
    for maker in Maker.objects.exclude(username="owner"):
        maker.delete()
    Maker.objects.filter(username="owner").update(uid=uuid.uuid4(), first_name="Wren Mallow")


def test_another_program_can_check_who_vouches_by_the_table_alone(workshop: Workshop) -> None:
    """As docs/formats.md says it: the row without its last two columns, as JSON with its keys in order."""
    data = carried(signed(workshop))
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        (row,) = csv.DictReader(io.StringIO(archive.read("signatures.csv").decode()))
    key, vouched = bytes.fromhex(row.pop("key")), bytes.fromhex(row.pop("vouched"))
    said = json.dumps(row, sort_keys=True, ensure_ascii=False, separators=(",", ":")).encode()
    Ed25519PublicKey.from_public_bytes(key).verify(vouched, said)
    assert workshop.get("/signing-key")["public"] == key.hex()


@pytest.mark.parametrize(
    "columns",
    [
        {"approved": "false"},
        {"name": "Bran Teal"},
        {"remarks": "Very good."},
        {"vouched": "00" * 64},
        {"key": "11" * 32},
    ],
)
def test_a_signature_that_was_turned_in_a_package_is_refused(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch, tmp_path: Any, columns: dict[str, str]
) -> None:
    trial = signed(workshop)
    data = turned(carried(trial), trial, **columns)
    elsewhere(monkeypatch, tmp_path)
    with pytest.raises(SheetError, match="not what a key vouched for"):
        take_in(io.BytesIO(data), dry=False)
    assert not Signature.objects.exists()


def test_another_workshops_key_is_met_once_and_known_from_then_on(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch, tmp_path: Any
) -> None:
    trial = signed(workshop)
    data, read = carried(trial), workshop.get("/signing-key")["read"]
    elsewhere(monkeypatch, tmp_path)
    assert any("never met before" in note and read in note for note in take_in(io.BytesIO(data), dry=False).notes)
    (shown,) = workshop.get(f"/trials/{trial}/signatures")["signatures"]
    assert "another workshop's key vouches for it, met on" in shown["vouched"]
    assert shown["how"] == "by their own hand, on their own phone"
    assert any("known since" in note for note in take_in(io.BytesIO(data), dry=True).notes)


def test_what_no_key_vouches_for_is_a_statement_on_paper(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch, tmp_path: Any
) -> None:
    trial = signed(workshop)
    data = turned(carried(trial), trial, key="", vouched="", approved="false", remarks="Never.")
    elsewhere(monkeypatch, tmp_path)
    take_in(io.BytesIO(data), dry=False)
    (shown,) = workshop.get(f"/trials/{trial}/signatures")["signatures"]
    assert (shown["how"], shown["approved"]) == ("on paper", False)
    assert "no workshop's key vouches for it" in shown["vouched"]


def test_a_package_signs_for_nobody_of_this_workshop(workshop: Workshop) -> None:
    """An approval that she never gave, by her id and by her name; and an open request that comes back signed."""
    trial = signed(workshop)
    data = carried(trial)
    forged = turned(data, trial, key="", vouched="", id=str(uuid.uuid4()))
    by_name = turned(data, trial, key="", vouched="", id=str(uuid.uuid4()), of="")
    Signature.objects.all().delete()
    for one in (forged, by_name):
        assert any("is of this workshop" in note for note in take_in(io.BytesIO(one), dry=False).notes)
        assert not Signature.objects.exists()
    take_in(io.BytesIO(data), dry=False)  # but what this workshop's own key vouches for it gave itself
    assert Signature.objects.get().approved is True


def test_an_open_request_is_never_signed_by_a_package(workshop: Workshop) -> None:
    trial = signed(workshop)
    data = carried(trial)
    Signature.objects.update(signed_at=None, seal="", key="", vouched="", approved=None, how="", saw=[])
    take_in(io.BytesIO(data), dry=False)
    assert not Signature.objects.get().signed
