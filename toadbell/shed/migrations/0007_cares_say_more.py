from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [("shed", "0006_vessels_retired")]

    operations = [
        migrations.AddField(
            model_name="care",
            name="found",
            field=models.CharField(blank=True, default="", help_text="by a look inside: sound, watch or unsound", max_length=10),
        ),
        migrations.AddField(
            model_name="care", name="until", field=models.DateField(help_text="a paper is good", null=True)
        ),
        migrations.AddField(
            model_name="care",
            name="withdrawn",
            field=models.DateTimeField(help_text="taken back as written by mistake; it stays on record", null=True),
        ),
        migrations.AddField(
            model_name="care",
            name="withdrawn_by",
            field=models.ForeignKey(
                null=True, on_delete=models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
    ]
