"""What was done with a vessel moves from the records to the shed: the ledger of its evidence reads it. The table stays where it lies."""

import uuid

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [("shed", "0003_people_in_every_workshop"), ("records", "0002_pictures_of_before")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Care",
                    fields=[
                        ("id", models.UUIDField(default=uuid.uuid4, primary_key=True, serialize=False)),
                        ("what", models.CharField(max_length=40)),
                        ("on", models.DateField()),
                        ("text", models.CharField(blank=True, default="", max_length=500)),
                        ("at", models.DateTimeField(default=django.utils.timezone.now)),
                        ("by", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
                        ("vessel", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="cares", to="shed.vessel")),
                    ],
                    options={"ordering": ["on", "at", "id"], "db_table": "records_care"},
                )
            ]
        )
    ]
