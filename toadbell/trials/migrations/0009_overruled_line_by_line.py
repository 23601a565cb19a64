from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [("trials", "0008_pins_seen_from")]

    operations = [
        migrations.AddField(
            model_name="decision",
            name="overruled",
            field=models.JSONField(
                default=dict, help_text="lines of the evidence that were gone beyond, by their codes, each with its reason"
            ),
        ),
    ]
