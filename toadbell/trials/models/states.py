"""Where a trial stands, and where its readings come from."""

from django.db import models


class State(models.TextChoices):
    """Where a trial stands."""

    PLANNED = "planned"
    READY = "ready"
    RUNNING = "running"
    HELD = "held"
    JUDGED = "judged"
    CLOSED = "closed"
    ABORTED = "aborted"


class Source(models.TextChoices):
    """Where readings come from."""

    DIAL = "dial", "typed from a dial"
    RIG = "rig", "from the simulated rig"
    DEVICE = "device", "by a logger"
    FILE = "file", "from a logger's file"
