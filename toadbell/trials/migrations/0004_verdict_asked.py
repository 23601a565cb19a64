from django.db import migrations, models


def with_what_is_new(apps, schema_editor):
    """Verdicts of an earlier core keep what they said; what that core did not work out is filled in from it, or is empty."""
    for verdict in apps.get_model("trials", "Verdict").objects.all():
        old = dict(verdict.answer)
        rate = old.pop("temperature_rate_to_explain", None)
        verdict.answer = {
            "at_start": old["leak"], "confidence": {"tight": 0.975, "leaking": 0.025}.get(old["verdict"], 0.5), "compliance_from": "computed",
            "drops_a_minute": old["leak"]["estimate"] * 1.2e9, "kelvin_to_explain": None if rate is None else rate * old["hold"],
            "school_says": None, "notes": [], **old, "steps": [step for step in old.get("steps", []) if isinstance(step, dict)],
        }
        verdict.points = [{"limit": None, "cut": False, **point} for point in verdict.points]
        verdict.save()


class Migration(migrations.Migration):
    dependencies = [("trials", "0003_bench")]

    operations = [
        migrations.AddField("verdict", "asked", models.JSONField(default=dict, help_text="how the log was read: ignore, s; put_back, s")),
        migrations.RunPython(with_what_is_new, migrations.RunPython.noop),
    ]
