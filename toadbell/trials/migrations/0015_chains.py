"""Chains of hashes over what is in a trial's log: from now on, and over what is there already as it stands today."""

import hashlib

import django.db.models.deletion
from django.db import migrations, models
from django.db.models.expressions import RawSQL

from toadbell.trials.models.chain import as_text


def as_it_stands(apps, schema_editor):
    Trial, Chain = apps.get_model("trials", "Trial"), apps.get_model("trials", "Chain")
    Event, Reading = apps.get_model("trials", "Event"), apps.get_model("trials", "Reading")

    def end(model, trial, bound):
        found, table = "", model._meta.db_table
        rows = model.objects.filter(trial=trial).order_by(RawSQL(f"{table}.rowid", []))
        for row in rows.iterator(5000):
            found = hashlib.sha256(f"{found}|{bound(row)}".encode()).hexdigest()
        return found

    for trial in Trial.objects.values_list("pk", flat=True):
        Chain.objects.create(
            trial_id=trial,
            events=end(Event, trial, lambda one: as_text(one.id, one.at, one.kind, one.by_id, one.data)),
            readings=end(
                Reading,
                trial,
                lambda one: as_text(
                    one.id, one.at, one.pressure, one.temperature, one.strokes, one.source, one.imported_id
                ),
            ),
        )


class Migration(migrations.Migration):
    dependencies = [("trials", "0014_vouched_signatures")]

    operations = [
        migrations.CreateModel(
            name="Chain",
            fields=[
                (
                    "trial",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        related_name="chain",
                        serialize=False,
                        to="trials.trial",
                    ),
                ),
                ("events", models.CharField(blank=True, default="", max_length=64)),
                ("readings", models.CharField(blank=True, default="", max_length=64)),
            ],
        ),
        migrations.RunPython(as_it_stands, migrations.RunPython.noop),
    ]
