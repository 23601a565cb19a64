"""The log of a soap map: what each section of a vessel showed under soap or water."""

from typing import Literal

from pydantic import Field

from toadbell.core.sheets.fields import Part, Pressure
from toadbell.core.sheets.plan import VesselSheet

Grade = Literal["dry", "still foam", "growing foam", "bubbles", "weep", "drip", "stream"]


class SoapMark(Part):
    """A section by its id or its name, how it shows, and at what pressure it was looked at."""

    section: str = Field(min_length=1, max_length=120)
    shows: Grade
    pressure: Pressure | None = None


class SoapSheet(Part):
    """The vessel, and its sections as they were marked one after the other; the last mark of a section counts."""

    procedure: Literal["tightness"]
    vessel: VesselSheet
    soap: list[SoapMark] = Field(max_length=2000)
