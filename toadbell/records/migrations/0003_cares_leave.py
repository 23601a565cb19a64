"""Cares live in the shed from now on; the table stays where it lies."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [("records", "0002_pictures_of_before"), ("shed", "0004_cares")]

    operations = [migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel(name="Care")])]
