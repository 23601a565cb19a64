"""The open formats: what a sheet may hold, and how a wrong one is refused.

Values with units are strings; reading a sheet turns them into SI floats. `docs/formats.md` describes them for people.
"""

from toadbell.core.sheets.acceptance import Acceptance, AgainstBaseline, MaxDrop, MaxLeak, NoVisibleDrop
from toadbell.core.sheets.burst import BurstSheet
from toadbell.core.sheets.circuit import Circuit, CircuitSection, CircuitValve
from toadbell.core.sheets.errors import SheetError
from toadbell.core.sheets.expansion import ExpansionSheet
from toadbell.core.sheets.hold import HoldSheet, HoldStretch
from toadbell.core.sheets.plan import HIGHEST, STEAM_ENDS, EditedStage, Hold, VesselSheet, boundary_of
from toadbell.core.sheets.reading import (
    MAX_SHEET_BYTES,
    load,
    read_altitude,
    read_burst_sheet,
    read_expansion_sheet,
    read_hold_sheet,
    read_kit,
    read_relief_sheet,
    read_soap_sheet,
    read_steam_sheet,
    read_tightening_sheet,
    read_vessel_sheet,
)
from toadbell.core.sheets.relief import ReliefSheet
from toadbell.core.sheets.soap import SoapSheet
from toadbell.core.sheets.steam import SteamSheet
from toadbell.core.sheets.tightening import TighteningSheet

__all__ = [
    "HIGHEST",
    "MAX_SHEET_BYTES",
    "STEAM_ENDS",
    "Acceptance",
    "AgainstBaseline",
    "BurstSheet",
    "Circuit",
    "CircuitSection",
    "CircuitValve",
    "EditedStage",
    "ExpansionSheet",
    "Hold",
    "HoldSheet",
    "HoldStretch",
    "MaxDrop",
    "MaxLeak",
    "NoVisibleDrop",
    "ReliefSheet",
    "SheetError",
    "SoapSheet",
    "SteamSheet",
    "TighteningSheet",
    "VesselSheet",
    "boundary_of",
    "load",
    "read_altitude",
    "read_burst_sheet",
    "read_expansion_sheet",
    "read_hold_sheet",
    "read_kit",
    "read_relief_sheet",
    "read_soap_sheet",
    "read_steam_sheet",
    "read_tightening_sheet",
    "read_vessel_sheet",
]
