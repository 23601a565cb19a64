import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("trials", "0009_overruled_line_by_line")]

    operations = [
        migrations.AddField("finding", "found", models.CharField(blank=True, default="", help_text="how it was found", max_length=20)),
        migrations.AddField("finding", "pressure", models.FloatField(help_text="it first showed at, Pa", null=True)),
        migrations.AddField("finding", "count", models.PositiveIntegerField(help_text="drops or bubbles that were counted", null=True)),
        migrations.AddField("finding", "over", models.FloatField(help_text="s, over which they were", null=True)),
        migrations.AddField("finding", "until", models.DateTimeField(help_text="what it was sealed with cures till then", null=True)),
        migrations.AddField(
            "finding",
            "same",
            models.ForeignKey(
                help_text="the leak of an earlier trial that it is",
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="again",
                to="trials.finding",
            ),
        ),
    ]
