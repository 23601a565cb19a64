"""What lists ask of a trial and a verdict stands beside their long answers; the times of storing are the runs' own."""

from django.db import migrations, models

import toadbell.trials.clock
from toadbell.core.kinds import KINDS


def sum_up(apps, schema_editor):
    alias = schema_editor.connection.alias
    for trial in apps.get_model("trials", "Trial").objects.using(alias).only("sheet", "frozen").iterator(50):
        answer = (trial.frozen or {}).get("answer") or {}
        kind = str(trial.sheet.get("kind", ""))
        own = KINDS[kind].basis if kind in KINDS else ""
        trial.kind, trial.basis = kind, str(answer.get("basis") or trial.sheet.get("basis") or own)
        trial.test_pressure = answer.get("test_pressure")
        trial.save(update_fields=["kind", "basis", "test_pressure"], using=alias)
    for verdict in apps.get_model("trials", "Verdict").objects.using(alias).only("answer").iterator(50):
        verdict.called = str(verdict.answer.get("verdict", ""))
        verdict.save(update_fields=["called"], using=alias)


class Migration(migrations.Migration):

    dependencies = [("trials", "0005_attachments")]

    operations = [
        migrations.AddField("trial", "kind", models.CharField(default="", editable=False, help_text="of the vessel, as its sheet says", max_length=40)),
        migrations.AddField(
            "trial", "basis", models.CharField(blank=True, default="", editable=False, help_text="of the frozen plan, else as its sheet says", max_length=40)
        ),
        migrations.AddField("trial", "test_pressure", models.FloatField(editable=False, help_text="of the frozen plan, Pa gauge", null=True)),
        migrations.AddField(
            "verdict", "called", models.CharField(default="", editable=False, help_text="tight, leaking or cannot-tell, as the answer says", max_length=20)
        ),
        migrations.AlterField("event", "stored_at", models.DateTimeField(default=toadbell.trials.clock.now)),
        migrations.AlterField("reading", "stored_at", models.DateTimeField(default=toadbell.trials.clock.now)),
        migrations.AddIndex("event", models.Index(fields=["stored_at"], name="trials_event_stored_idx")),
        migrations.RunPython(sum_up, migrations.RunPython.noop),
    ]
