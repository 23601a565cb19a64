"""Pictures and papers made anew, so that nothing comes along but what is seen: no place, no camera, no script.

What reads them is loaded when one comes: few runs have any.
"""

import io
from typing import TYPE_CHECKING, NamedTuple

from toadbell.core.sheets import SheetError

if TYPE_CHECKING:
    from PIL import Image

MOST_BYTES = 12_000_000
MOST_PIXELS = 60_000_000
MOST_PIXELS_WHOLE = 24_000_000
"""PNG and WebP are read whole before they are made smaller: so many points fit into a few hundred megabytes."""
MOST_PAGES = 200
LONGEST_SIDE = 1600
SMALL_SIDE = 320
QUALITY = 82


class Clean(NamedTuple):
    """A file as it is kept: what it is, its bytes, and its size in pixels or pages."""

    kind: str
    data: bytes
    wide: int | None = None
    tall: int | None = None
    pages: int | None = None


def cleaned(data: bytes, kept_before: bool = False) -> Clean:
    """A picture or a paper as it may be kept, told by its content and not by its name.

    Raises SheetError where it is neither.

    kept_before  it is said to have been made anew before: where that is so, its bytes stay
    """
    if len(data) > MOST_BYTES:
        raise SheetError(f"a file of more than {MOST_BYTES // 1_000_000} MB: make it smaller", "photo")
    return _paper(data) if data[:1024].lstrip().startswith(b"%PDF-") else _photo(data, kept_before)


def small(data: bytes) -> bytes:
    """A small copy of a picture, JPEG."""
    from PIL import Image

    with Image.open(io.BytesIO(data), formats=("JPEG",)) as found:
        found.thumbnail((SMALL_SIDE, SMALL_SIDE))
        return _jpeg(found.convert("RGB"))


def _photo(data: bytes, kept_before: bool) -> Clean:
    from PIL import Image, ImageOps

    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as found:
            if found.width * found.height > (MOST_PIXELS if found.format == "JPEG" else MOST_PIXELS_WHOLE):
                raise SheetError("the picture is too large to be opened: take it smaller, or save it as JPEG", "photo")
            if (
                kept_before
                and found.format == "JPEG"
                and max(found.size) <= LONGEST_SIDE
                and without_marks(data) == data
            ):
                found.load()
                return Clean("photo", data, found.width, found.height)
            if max(found.size) > 2 * LONGEST_SIDE:
                found.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))  # a JPEG is read no larger than it will be kept
            found.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except SheetError:
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise SheetError("the picture is too large to be opened: take it smaller", "photo") from None
    except (OSError, ValueError, SyntaxError):
        raise SheetError(
            "that is no picture that can be read here: JPEG, PNG or WebP, or a paper as PDF", "photo"
        ) from None
    return Clean("photo", _jpeg(upright), *upright.size)


def _jpeg(picture: "Image.Image") -> bytes:
    from PIL import Image

    out, plain = io.BytesIO(), Image.new("RGB", picture.size)
    plain.paste(picture)
    plain.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()


def without_marks(data: bytes) -> bytes:
    """A JPEG without what is written beside the picture (place, time, camera, comments, anything after its end); the
    picture itself untouched.
    """
    out, at = bytearray(data[:2]), 2
    while at + 4 <= len(data) and data[at] == 0xFF:
        mark, long = data[at + 1], int.from_bytes(data[at + 2 : at + 4], "big")
        if mark == 0xDA:
            end = data.rfind(b"\xff\xd9")
            return bytes(out + (data[at : end + 2] if end > at else data[at:]))
        if not (0xE1 <= mark <= 0xED or mark in (0xEF, 0xFE)):
            out += data[at : at + 2 + long]
        at += 2 + long
    return bytes(out + data[at:])


def _paper(data: bytes) -> Clean:
    """A PDF's pages alone: without scripts, actions, links, attachments, forms, and what it tells of who made it."""
    from pypdf import PdfReader, PdfWriter
    from pypdf.errors import PyPdfError
    from pypdf.generic import DictionaryObject, NameObject, StreamObject

    try:
        reader = PdfReader(io.BytesIO(data))
        if reader.is_encrypted:
            raise SheetError("this PDF is locked with a password: save it without one", "photo")
        pages = len(reader.pages)
        if not 1 <= pages <= MOST_PAGES:
            raise SheetError(f"a PDF of 1 to {MOST_PAGES} pages, not {pages}", "photo")
        writer = PdfWriter()
        for page in reader.pages:
            for key in _DROPPED:  # before it is taken over, and all that hangs on it with it
                if key in page:
                    del page[key]
            writer.add_page(page)
        for found in writer._objects:
            if isinstance(found, DictionaryObject):
                for key in _RUN:
                    found.pop(NameObject(key), None)
            if isinstance(found, StreamObject):
                found.pop(NameObject("/Metadata"), None)
                if found.get("/Filter") == "/DCTDecode":
                    found._data = without_marks(found._data)
        writer.metadata = None
        out = io.BytesIO()
        writer.write(out)
    except SheetError:
        raise
    except (PyPdfError, OSError, ValueError, KeyError, TypeError, AttributeError, IndexError, RecursionError):
        raise SheetError("that PDF cannot be read: save or print it as PDF anew", "photo") from None
    return Clean("paper", out.getvalue(), pages=pages)


_RUN = (
    "/JS",
    "/JavaScript",
    "/OpenAction",
    "/AA",
    "/A",
    "/Launch",
    "/EmbeddedFiles",
    "/EF",
    "/AcroForm",
    "/XFA",
    "/URI",
    "/SubmitForm",
)
"""Whatever in a PDF does something by itself or calls elsewhere, wherever it stands."""
_DROPPED = ("/Annots", "/AA", "/Metadata", "/PieceInfo", "/LastModified", "/B", "/Tabs", "/StructParents")
