from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shed", "0009_people_and_roles")]

    operations = [
        migrations.CreateModel(
            name="Workshop",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "altitude",
                    models.CharField(blank=True, default="", help_text="above the sea, with its unit", max_length=40),
                ),
            ],
        ),
    ]
