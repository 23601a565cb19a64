"""Photos taken at the bench: made anew, so that nothing comes along but the picture."""

import datetime
import io
import os
import uuid

from django.db import transaction
from PIL import Image, ImageOps

from toadbell.core.sheets import SheetError
from toadbell.shed.models import Maker
from toadbell.trials.models import Event, Trial
from toadbell.trials.sources import Photo

MOST_BYTES = 12_000_000
MOST_PIXELS = 60_000_000
LONGEST_SIDE = 1600
QUALITY = 82


def keep_photo(trial: Trial, maker: Maker, photo_id: uuid.UUID, data: bytes, text: str, at: datetime.datetime | None = None) -> Event:
    """Keep a picture and log it; the same id sent twice is kept once. Raises SheetError where it is none."""
    existing = Event.objects.filter(pk=photo_id).first()
    if existing:
        return existing
    picture = _made_anew(data)
    Photo.FOLDER.mkdir(parents=True, exist_ok=True)
    with transaction.atomic():
        photo = Photo.objects.create(id=photo_id, trial=trial, wide=picture.width, tall=picture.height, at=at or trial.now(), by=maker)
        part = photo.path.with_suffix(".part")
        with part.open("wb") as file:
            picture.save(file, "JPEG", quality=QUALITY, optimize=True)
            file.flush()
            os.fsync(file.fileno())
        part.replace(photo.path)
        return trial.log("photo", maker, event_id=photo_id, at=at, photo=str(photo_id), text=text.strip()[:500])


def _made_anew(data: bytes) -> Image.Image:
    """The picture upright, no larger than needed, without place, time and camera."""
    if len(data) > MOST_BYTES:
        raise SheetError(f"a picture of more than {MOST_BYTES // 1_000_000} MB: take it smaller", "photo")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as found:
            if found.width * found.height > MOST_PIXELS:
                raise SheetError("the picture is too large to be opened: take it smaller", "photo")
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except (OSError, ValueError, Image.DecompressionBombError) as problem:
        if isinstance(problem, SheetError):
            raise
        raise SheetError("that is no picture that can be read here: JPEG, PNG or WebP", "photo") from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    return clean
