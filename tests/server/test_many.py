"""A workshop of many: lists come a page at a time, say how many there are, and are not sent again where nothing
changed.
"""

import datetime
import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.server.conftest import VESSEL, Workshop, held, running
from tests.server.test_attachments import post
from toadbell.records.shelf_api import PAGE
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Decision, Trial


def many(count: int) -> None:
    owner = Maker.local_owner()
    Vessel.objects.bulk_create(Vessel(name=f"Tank {n:03d}", sheet=VESSEL, hung_up_by=owner) for n in range(count))


def test_the_shelf_is_leafed_through_and_found_by_name(workshop: Workshop) -> None:
    many(PAGE + 5)
    first, second = workshop.get("/shed"), workshop.get("/shed?page=2")
    assert (len(first["rows"]), len(second["rows"]), first["pages"], first["in_all"]) == (PAGE, 5, 2, PAGE + 5)
    assert {row["name"] for row in first["rows"]}.isdisjoint(row["name"] for row in second["rows"])
    found = workshop.get("/shed?text=tank 00")
    assert (found["found"], found["pages"]) == (10, 1)
    assert workshop.get("/shed?page=99")["page"] == 2
    assert workshop.get("/shed?text=parsnip")["rows"] == []


def test_the_shelf_is_sent_again_only_where_something_changed(workshop: Workshop) -> None:
    trial = running(workshop)
    mark = workshop.client.get("/api/shed").headers["ETag"]

    def again() -> int:
        return int(workshop.client.get("/api/shed", headers={"if-none-match": mark}).status_code)

    assert again() == 304
    for change in (
        lambda: workshop.read(trial, "3 bar"),
        lambda: workshop.step(trial, "note", text="dry"),
        lambda: workshop.vessel("Another"),
        lambda: workshop.put("/me", {"units": "imperial"}),
        lambda: workshop.happened(workshop.get("/shed")["rows"][0]["id"], "look inside"),
    ):
        mark = workshop.client.get("/api/shed").headers["ETag"]
        assert again() == 304
        change()
        assert again() == 200


def test_the_shelf_tells_of_each_vessel_what_stands_and_what_is_next(workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": "dry"})
    vessel = str(Trial.objects.get(pk=trial).vessel_id)
    plan = workshop.post(f"/vessels/{vessel}/trials")
    (row,) = workshop.get("/shed")["rows"]
    assert (row["stands"]["id"], row["stands"]["tag"]["fitness"], row["latest"]["id"], row["latest"]["state"]) == (
        trial,
        "fit",
        plan["id"],
        "planned",
    )
    shed = workshop.get("/shed")
    assert [one["id"] for one in shed["to_do"]] == [plan["id"]]
    assert [one["id"] for one in shed["lately"]] == [trial]
    assert [one["id"] for one in workshop.get(f"/trials?vessel={vessel}")] == [plan["id"], trial]
    assert workshop.get(f"/trials?vessel={uuid.uuid4()}") == []


def test_the_logbook_comes_a_page_at_a_time_and_new_words_are_found_at_once(workshop: Workshop) -> None:
    vessel, owner = Vessel.objects.get(pk=workshop.vessel()["id"]), Maker.local_owner()
    begun = datetime.datetime(2026, 3, 14, 9, tzinfo=datetime.UTC)
    for n in range(65):
        trial = Trial(
            vessel=vessel,
            number=n + 1,
            sheet=VESSEL,
            planned_by=owner,
            state="aborted",
            started_at=begun + datetime.timedelta(hours=n),
        )
        trial.save()
    first, second = workshop.get("/logbook"), workshop.get("/logbook?page=2")
    assert (len(first["rows"]), len(second["rows"]), first["found"], first["in_all"]) == (60, 5, 65, 65)
    assert workshop.get("/logbook?text=parsnip")["found"] == 0
    trial = Trial.objects.get(number=65)
    trial.log("note", owner, text="a parsnip in the drain")
    (row,) = workshop.get("/logbook?text=parsnip")["rows"]
    assert row["line"] == "a parsnip in the drain"


def test_days_are_the_workshops_own_on_the_page_and_on_paper(workshop: Workshop) -> None:
    trial = held(workshop)
    late = datetime.datetime(2026, 3, 14, 23, 30, tzinfo=datetime.UTC)
    Trial.objects.filter(pk=trial).update(started_at=late)
    from pypdf import PdfReader

    def told() -> str:
        import io

        data = workshop.client.get(f"/api/records/{trial}/report.pdf").content
        return " ".join(PdfReader(io.BytesIO(data)).pages[0].extract_text().split())

    workshop.put("/me", {"units": "metric", "zone": "Pacific/Auckland"})
    assert workshop.get("/me")["zone"] == "Pacific/Auckland"
    assert "begun 15 March 2026 at 12:30 (Pacific/Auckland)" in told()
    workshop.put("/me", {"units": "metric", "zone": "America/Denver"})
    assert "begun 14 March 2026 at 17:30 (America/Denver)" in told()
    assert "no time zone" in workshop.put("/me", {"units": "metric", "zone": "Mars/Olympus"}, 409)["says"]


def test_a_paper_comes_without_what_it_would_do_by_itself(workshop: Workshop) -> None:
    import io

    from pypdf import PdfReader, PdfWriter
    from pypdf.generic import DictionaryObject, NameObject, TextStringObject

    writer = PdfWriter()
    page = writer.add_blank_page(200, 200)
    action = DictionaryObject(
        {NameObject("/S"): NameObject("/JavaScript"), NameObject("/JS"): TextStringObject("app.alert('boo')")}
    )
    page[NameObject("/AA")] = DictionaryObject({NameObject("/O"): writer._add_object(action)})
    page[NameObject("/Resources")] = DictionaryObject(
        {NameObject("/Properties"): DictionaryObject({NameObject("/X"): writer._add_object(action)})}
    )
    writer._root_object[NameObject("/OpenAction")] = writer._add_object(action)
    data = io.BytesIO()
    writer.write(data)
    assert b"boo" in data.getvalue()
    vessel = workshop.vessel()
    (kept,) = post(workshop, f"/vessels/{vessel['id']}/attachments", "plate.pdf", data.getvalue())
    paper = workshop.client.get(f"/api/papers/{kept['id']}").content
    assert b"boo" not in paper
    assert b"/JS" not in paper
    assert len(PdfReader(io.BytesIO(paper)).pages) == 1


@pytest.mark.parametrize(("kind", "status"), [("JPEG", 201), ("PNG", 422)])
def test_a_large_photo_is_taken_as_jpeg_and_otherwise_refused_with_what_to_do(
    workshop: Workshop, kind: str, status: int
) -> None:
    import io

    from PIL import Image

    data = io.BytesIO()
    Image.new("RGB", (7000, 5000), (30, 97, 83)).save(data, kind)
    vessel = workshop.vessel()
    told = post(workshop, f"/vessels/{vessel['id']}/attachments", "big", data.getvalue(), status)
    assert (max(told[0]["wide"], told[0]["tall"]) == 1600) if status == 201 else ("save it as JPEG" in told["says"])


def asked(workshop: Workshop, path: str) -> int:
    """How many statements a page asks of the database where something changed since it was asked for."""
    with CaptureQueriesContext(connection) as found:
        workshop.get(path)
    return len(found)


PAGES = ("/shed", "/due", "/logbook", "/logbook?text=dry", "/logbook?tag=fit&year=2026")


def test_no_page_asks_more_of_the_database_where_there_are_ten_times_as_many(workshop: Workshop) -> None:
    pattern = Trial.objects.get(pk=held(workshop))
    workshop.post(f"/trials/{pattern.pk}/judge")
    workshop.post(f"/trials/{pattern.pk}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": "dry"})
    decision = Decision.objects.get(trial=pattern)
    asked_before = {}
    for count in (2, 4, 40):
        for n in range(Vessel.objects.count(), count):
            vessel = Vessel.hang_up(Maker.local_owner(), f"Tank {n:03d}", VESSEL)
            trial = Trial.objects.get(pk=pattern.pk)
            trial.pk, trial.vessel, trial._state.adding = uuid.uuid4(), vessel, True
            trial.save(force_insert=True)
            decided = Decision.objects.get(pk=decision.pk)
            decided.pk, decided.trial, decided._state.adding = None, trial, True
            decided.save(force_insert=True)
        now = {path: asked(workshop, path) for path in PAGES}
        if count > 4:  # the first time something is made ready
            assert {path: many for path, many in now.items() if many > asked_before[path] + 1} == {}
        asked_before = now
