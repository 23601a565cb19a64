"""Pictures taken at the bench become attachments, and move to where those lie."""

import hashlib
import shutil

from django.conf import settings
from django.db import migrations


def move(apps, schema_editor):
    Photo, Attachment, Event = (apps.get_model(*name) for name in (("trials", "Photo"), ("records", "Attachment"), ("trials", "Event")))
    to = settings.DATA_DIR / "attachments"
    for photo in Photo.objects.select_related("trial"):
        path = settings.DATA_DIR / "photos" / f"{photo.id}.jpg"
        if not path.exists():
            continue
        to.mkdir(parents=True, exist_ok=True)
        data, event = path.read_bytes(), Event.objects.filter(pk=photo.id).first()
        shutil.copyfile(path, to / path.name)
        Attachment.objects.create(
            id=photo.id, kind="photo", vessel=photo.trial.vessel, trial=photo.trial, event=event,
            text=event.data.get("text", "") if event else "", size=len(data), sha256=hashlib.sha256(data).hexdigest(),
            wide=photo.wide, tall=photo.tall, at=photo.at, by=photo.by,
        )


class Migration(migrations.Migration):

    dependencies = [("records", "0001_attachments")]

    operations = [migrations.RunPython(move, migrations.RunPython.noop)]
