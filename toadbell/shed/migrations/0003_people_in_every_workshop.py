import uuid

import django.utils.timezone
from django.db import migrations, models


def give_each_their_own(apps, schema_editor):
    Maker = apps.get_model("shed", "Maker")
    for maker in Maker.objects.all():
        maker.uid = uuid.uuid4()
        maker.save(update_fields=["uid"])


class Migration(migrations.Migration):

    dependencies = [("shed", "0002_kit")]

    operations = [
        migrations.AddField("maker", "uid", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(give_each_their_own, migrations.RunPython.noop),
        migrations.AlterField(
            "maker",
            "uid",
            models.UUIDField(default=uuid.uuid4, editable=False, help_text="the same person in every workshop", unique=True),
        ),
        migrations.AlterField("vessel", "hung_up", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AlterField("kit", "hung_up", models.DateTimeField(default=django.utils.timezone.now)),
    ]
