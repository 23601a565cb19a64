from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [("trials", "0015_chains")]

    operations = [
        migrations.AddField(
            model_name="decision",
            name="valve",
            field=models.CharField(
                blank=True,
                default="",
                help_text="what a relief valve's own trial was decided to show of it",
                max_length=12,
            ),
        ),
    ]
