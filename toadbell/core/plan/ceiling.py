"""The ceiling of a test, and the pressure the vessel may work at."""

from collections.abc import Iterable

from toadbell.core.answers import Limit
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.strength import TEST_FRACTION, Part


def ceiling(sheet: VesselSheet, parts: list[Part]) -> Limit:
    """The highest pressure the vessel may see in a test: weakest region, weakest part that stays on, maker's limit, Pa.

    It is known only where every part of the shell has a limit, or the maker or the person states one.
    """
    fraction = TEST_FRACTION[sheet.medium]
    limits = [(part.test_limit, f"{part.name}, {fraction:.2f} yield") for part in parts if part.test_limit is not None]
    limits += [(fitting.rating, f"{fitting.name}, its rating") for fitting in sheet.fittings if fitting.stays_on and fitting.rating]
    if sheet.maker_test_limit is not None:
        limits.append((sheet.maker_test_limit, "the maker's test limit"))
    known = sheet.maker_test_limit is not None or (bool(parts) and all(part.test_limit is not None for part in parts))
    return _least(limits, known)


def allowable(parts: list[Part]) -> Limit:
    """The pressure the vessel may work at by its design stress, joints and wall less corrosion, Pa."""
    known = bool(parts) and all(part.allowable is not None for part in parts)
    return _least([(part.allowable, part.name) for part in parts if part.allowable is not None], known)


def _least(limits: Iterable[tuple[float, str]], known: bool) -> Limit:
    pressure, set_by = min(limits, default=(None, "not known"))
    return Limit(pressure=pressure, set_by=set_by, known=known)
