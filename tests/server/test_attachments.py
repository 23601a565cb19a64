"""Pictures and papers: made anew, kept once, where they belong, with nothing along that is not seen."""

import io
import uuid
from typing import Any

import pytest
from PIL import Image
from pypdf import PdfReader, PdfWriter
from pypdf.generic import DictionaryObject, NameObject, TextStringObject

from tests.server.conftest import Workshop, running
from toadbell.records.attachments import safe_name
from toadbell.records.models import Attachment
from toadbell.records.pictures import cleaned
from toadbell.trials.models import Event


def picture(size: tuple[int, int] = (2400, 1200), form: str = "JPEG") -> bytes:
    """A picture that says where it was taken, and by what."""
    exif, out = Image.Exif(), io.BytesIO()
    exif[0x010F] = "Maker of the camera"
    exif.get_ifd(0x8825)[1] = "N"
    Image.new("RGB", size, "teal").save(out, form, exif=exif)
    return out.getvalue()


def paper() -> bytes:
    """A certificate as PDF, with a script, a link, a file inside and its writer's name."""
    writer, out = PdfWriter(), io.BytesIO()
    writer.add_blank_page(200, 100)
    writer.add_blank_page(200, 100)
    script = DictionaryObject(
        {NameObject("/S"): NameObject("/JavaScript"), NameObject("/JS"): TextStringObject("app.alert('hello')")}
    )
    writer._root_object[NameObject("/OpenAction")] = script
    writer.add_attachment("inside.exe", b"MZ")
    writer.add_metadata({"/Author": "Somebody"})
    writer.write(out)
    return out.getvalue()


def post(
    workshop: Workshop, path: str, name: str, data: bytes, status: int = 201, field: str = "file", **form: Any
) -> Any:
    file = io.BytesIO(data)
    file.name = name
    answer = workshop.client.post(f"/api{path}", {"id": str(uuid.uuid4()), **form, field: file})
    assert answer.status_code == status, answer.content
    return answer.json()


def fetched(workshop: Workshop, path: str) -> bytes:
    answer = workshop.client.get(f"/api{path}")
    assert answer.status_code == 200
    return answer.content


def test_a_photo_of_the_run_is_kept_once_smaller_and_without_where_and_with_what_it_was_taken(
    workshop: Workshop,
) -> None:
    trial, photo = running(workshop), str(uuid.uuid4())
    for _ in range(2):
        bench = post(
            workshop, f"/trials/{trial}/photos", "seam.jpg", picture(), field="photo", id=photo, text="lower seam"
        )
    assert bench["log"][0]["says"] == "photo: lower seam"
    assert Event.objects.filter(kind="photo").count() == Attachment.objects.count() == 1
    whole, small = (Image.open(io.BytesIO(fetched(workshop, f"/photos/{photo}{how}"))) for how in ("", "?small=true"))
    assert (whole.size, small.size) == ((1600, 800), (320, 160))
    assert not whole.getexif()


def test_a_photo_of_a_leak_stays_with_that_leak(workshop: Workshop) -> None:
    trial, leak = running(workshop), str(uuid.uuid4())
    workshop.step(trial, "leak", event=leak, owner="boundary", where="lower seam", shows="weep")
    bench = post(workshop, f"/trials/{trial}/photos", "a.jpg", picture(), field="photo", leak=leak)
    assert bench["log"][0]["says"] == "photo: lower seam"
    (kept,) = workshop.get(f"/vessels/{Attachment.objects.get().vessel_id}/attachments")
    assert (kept["event"], kept["trial"], kept["by"]) == (leak, trial, "Owner")
    says = post(workshop, f"/trials/{trial}/photos", "a.jpg", picture(), 409, field="photo", leak=str(uuid.uuid4()))[
        "says"
    ]
    assert "not on this run" in says


def test_a_picture_hangs_on_an_opening_is_taken_down_and_hung_up_again(workshop: Workshop) -> None:
    vessel = workshop.vessel(fittings=[{"name": "Drain bush", "fitted": "drain"}])
    (kept,) = post(
        workshop,
        f"/vessels/{vessel['id']}/attachments",
        "C:\\photos\\<b>bush</b>.png",
        picture(form="PNG"),
        opening="Drain bush",
    )
    assert (kept["opening"], kept["kind"], kept["name"]) == ("Drain bush", "photo", "b.png")
    assert (
        "no opening"
        in post(workshop, f"/vessels/{vessel['id']}/attachments", "a.png", picture(), 409, opening="Man-hole")["says"]
    )
    workshop.put(f"/attachments/{kept['id']}", {"text": "the thread, cleaned"})
    workshop.put(f"/attachments/{kept['id']}/hung", {"taken_down": True})
    assert workshop.get(f"/vessels/{vessel['id']}/attachments") == []
    workshop.put(f"/attachments/{kept['id']}/hung", {"taken_down": False})
    assert workshop.get(f"/vessels/{vessel['id']}/attachments")[0]["text"] == "the thread, cleaned"


def test_what_is_part_of_a_record_is_not_taken_down(workshop: Workshop) -> None:
    trial = running(workshop)
    post(workshop, f"/trials/{trial}/photos", "a.jpg", picture(), field="photo")
    assert (
        "stays" in workshop.put(f"/attachments/{Attachment.objects.get().id}/hung", {"taken_down": True}, 409)["says"]
    )


def test_a_paper_keeps_its_pages_and_loses_its_script_its_files_and_its_writer(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    (kept,) = post(workshop, f"/vessels/{vessel['id']}/attachments", "plate.pdf", paper(), text="Makers' paper")
    assert (kept["kind"], kept["pages"], kept["name"]) == ("paper", 2, "plate.pdf")
    data = fetched(workshop, f"/papers/{kept['id']}")
    read = PdfReader(io.BytesIO(data))
    assert len(read.pages) == 2
    assert not read.attachments
    assert all(word not in data for word in (b"app.alert", b"Somebody", b"inside.exe", b"/JavaScript"))
    assert "attachment;" in workshop.client.get(f"/api/papers/{kept['id']}")["Content-Disposition"]


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("seam.jpg", b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>", "no picture"),
        ("seam.svg", b"<?xml version='1.0'?><svg><script>alert(1)</script></svg>", "no picture"),
        ("seam.jpg", b"GIF89a" + bytes(64), "no picture"),
        ("page.pdf", b"<html><script>alert(1)</script></html>", "no picture"),
        ("cut.jpg", picture()[:900], "no picture"),
        ("cut.pdf", paper()[:200], "PDF cannot be read"),
        ("big.jpg", b"\xff\xd8" + bytes(12_000_001), "more than 12 MB"),
        ("nothing.jpg", b"", "no picture"),
    ],
)
def test_what_is_neither_is_refused_by_what_it_is_and_not_by_its_name(
    workshop: Workshop, name: str, data: bytes, says: str
) -> None:
    vessel = workshop.vessel()
    assert says in post(workshop, f"/vessels/{vessel['id']}/attachments", name, data, 422)["says"]
    assert Attachment.objects.count() == 0
    assert not list(Attachment.FOLDER.glob("*"))


def test_a_picture_that_opens_to_more_than_it_seems_is_refused() -> None:
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    assert len(out.getvalue()) < 100_000
    with pytest.raises(ValueError, match="too large"):
        cleaned(out.getvalue())


@pytest.mark.parametrize("make", [picture, paper])
def test_what_was_made_anew_once_stays_as_it_is_when_it_comes_back(make: Any) -> None:
    once = cleaned(make())
    assert cleaned(once.data, kept_before=True) == once


@pytest.mark.parametrize(
    ("given", "kept"),
    [
        ("../../etc/passwd", "passwd"),
        ("a\r\nSet-Cookie: x", "aSet-Cookie x"),
        ("‮gpj.exe", "gpj.exe"),
        ('<img src="x">.jpg', "img src=x.jpg"),
        ("…", "…"),
    ],
)
def test_a_file_s_name_is_kept_as_plain_text(given: str, kept: str) -> None:
    assert safe_name(given) == kept
