"""The ceiling of a test, and the pressure the vessel may work at."""

from collections.abc import Iterable

from toadbell.core.answers import Limit
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.parts import TEST_FRACTION, Part

OPEN_ENDED = frozenset({"pipework", "joint"})
"""Kinds that have no ends of their own."""


def ceiling(sheet: VesselSheet, parts: list[Part]) -> Limit:
    """The highest pressure the vessel may see in a test: weakest region, weakest part that stays on, maker's limit, Pa.

    It is known only where every part has a limit, both ends of a shell among them, or the maker or the person states
    one.
    """
    fraction = TEST_FRACTION[sheet.medium]
    limits = [(part.test_limit, f"{part.name}, {fraction:.2f} yield") for part in parts if part.test_limit is not None]
    limits += [
        (fitting.rating, f"{fitting.name}, its rating")
        for fitting in sheet.fittings
        if fitting.stays_on and fitting.rating
    ]
    if sheet.maker_test_limit is not None:
        limits.append((sheet.maker_test_limit, "the maker's test limit"))
    known = sheet.maker_test_limit is not None or (
        _closed(sheet) and bool(parts) and all(part.test_limit is not None for part in parts)
    )
    return _least(limits, known)


def allowable(sheet: VesselSheet, parts: list[Part]) -> Limit:
    """The pressure the vessel may work at by its design stress at work, joints and wall less corrosion, Pa."""
    known = _closed(sheet) and bool(parts) and all(part.allowable is not None for part in parts)
    return _least([(part.allowable, part.name) for part in parts if part.allowable is not None], known)


def _closed(sheet: VesselSheet) -> bool:
    """Are both ends of a shell told, where it has any?"""
    return sheet.shell is None or sheet.shell.form == "sphere" or len(sheet.ends) == 2 or sheet.kind in OPEN_ENDED


def _least(limits: Iterable[tuple[float, str]], known: bool) -> Limit:
    pressure, set_by = min(limits, default=(None, "not known"))
    return Limit(pressure=pressure, set_by=set_by, known=known)
