"""Leaks become rows of their own, and what is stored of plans, verdicts and advice becomes documents of today's schema."""

import uuid

import django.db.models.deletion
from django.db import migrations, models

from toadbell.core.documents import upgraded


def leaks_from_logs(apps, schema_editor):
    Event, Finding = apps.get_model("trials", "Event"), apps.get_model("trials", "Finding")
    taken_back = {str(e.data.get("corrects")) for e in Event.objects.filter(kind="corrected")}
    for event in Event.objects.filter(kind="leak").order_by("at", "stored_at"):
        if str(event.pk) in taken_back:
            continue
        pin = event.data.get("pin") or {}
        Finding.objects.create(
            id=event.pk, trial_id=event.trial_id, at=event.at, owner=event.data["owner"], where=event.data["where"][:200],
            shows=event.data.get("shows", "weep"), pin_x=pin.get("x"), pin_v=pin.get("v"),
        )
    leaks = {(trial, str(pk)): pk for trial, pk in Finding.objects.values_list("trial_id", "pk")}
    for event in Event.objects.filter(kind="mended").order_by("at", "stored_at"):
        leak = leaks.get((event.trial_id, str(event.data.get("leak"))))
        if leak is not None:  # a log that was brought in may tell of a mend of nothing
            Finding.objects.filter(pk=leak).update(mend=str(event.data.get("did", ""))[:500], mended_at=event.at)


def documents(apps, schema_editor):
    for model, field, kind in (("Trial", "frozen", "plan"), ("Verdict", "answer", "verdict"), ("Decision", "advice", "advice")):
        rows = apps.get_model("trials", model).objects.exclude(**{f"{field}__isnull": True})
        for row in rows.only("pk", field).iterator(chunk_size=50):
            stored = getattr(row, field)
            if stored and stored.get("schema", 1) == 1:
                rows.filter(pk=row.pk).update(**{field: upgraded(kind, stored)})


class Migration(migrations.Migration):
    dependencies = [("trials", "0006_lists")]

    operations = [
        migrations.CreateModel(
            name="Finding",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, primary_key=True, serialize=False)),
                ("at", models.DateTimeField()),
                ("owner", models.CharField(help_text="boundary or rig", max_length=10)),
                ("where", models.CharField(max_length=200)),
                ("shows", models.CharField(default="weep", max_length=10)),
                ("pin_x", models.FloatField(help_text="m", null=True)),
                ("pin_v", models.FloatField(help_text="m", null=True)),
                ("mend", models.CharField(blank=True, default="", help_text="what was done about it", max_length=500)),
                ("mended_at", models.DateTimeField(null=True)),
                ("trial", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="findings", to="trials.trial")),
            ],
            options={"ordering": ["at", "id"]},
        ),
        migrations.RunPython(leaks_from_logs, migrations.RunPython.noop),
        migrations.RunPython(documents, migrations.RunPython.noop),
    ]
