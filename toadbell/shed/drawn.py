"""Drawings of sheets, each worked out once: a bench is asked for its own every second."""

import json
from functools import lru_cache
from typing import Any

from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.drawing import Drawing, drawing_of


def drawn(sheet: dict[str, Any]) -> Drawing:
    """The drawing of a sheet in the open format; raises SheetError where it is wrong."""
    return _drawn(json.dumps(sheet, sort_keys=True))


@lru_cache(maxsize=512)
def _drawn(sheet: str) -> Drawing:
    return drawing_of(read_vessel_sheet(json.loads(sheet)))
