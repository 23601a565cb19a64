"""What vessels and trials answer when something cannot be done."""


class NotNow(Exception):
    """It cannot be done in this state; the message says why and what to do instead."""


class Stale(Exception):
    """Somebody else changed it meanwhile; the message says what to do."""
