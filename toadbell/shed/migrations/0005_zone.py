"""Days and times are told in the workshop's own zone; sessions that were handed out to whoever connected are worth nothing any more."""

from django.db import migrations, models

import toadbell.shed.models


def end_sessions(apps, schema_editor):
    apps.get_model("sessions", "Session").objects.using(schema_editor.connection.alias).all().delete()


class Migration(migrations.Migration):

    dependencies = [("shed", "0004_cares"), ("sessions", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="maker",
            name="zone",
            field=models.CharField(
                default=toadbell.shed.models.system_zone, help_text="in which days and times of the workshop are told", max_length=60
            ),
        ),
        migrations.RunPython(end_sessions, migrations.RunPython.noop),
    ]
