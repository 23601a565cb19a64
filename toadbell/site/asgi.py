"""The application as a server sees it: the door, and what answers beside it."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
django.setup(set_prefix=False)

from toadbell.site.door import Door, FromTheDoor  # noqa: E402

application = Door(os.environ.get("TOADBELL_BESIDE_AT"))
beside = FromTheDoor()
