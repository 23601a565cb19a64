"""Where a vessel's shell is expected to burst, by its form and material."""

from dataclasses import dataclass

from toadbell.core.phrases import Said, say
from toadbell.core.physics.materials import BRITTLE, LAY_UPS, figures_of
from toadbell.core.physics.wall import faupel_burst, netting_burst
from toadbell.core.sheets import VesselSheet


@dataclass(frozen=True)
class Expected:
    """A burst pressure as it is reckoned, Pa; the form it comes from and its source."""

    pressure: float
    formula: str
    source: Said


def expected_burst(sheet: VesselSheet) -> Expected | None:
    """The expected burst of a cylinder's wall; None where a size or a strength of it is not known, or nothing gives
    warning of it. Its ends may go sooner.
    """
    shell = sheet.shell
    if shell is None or shell.form != "cylinder" or shell.usual is None:
        return None
    metal, inside = figures_of(shell.material, shell), shell.inside_diameter / 2
    if shell.material in LAY_UPS:
        if metal.ultimate is None:
            return None
        at = netting_burst(metal.ultimate, shell.usual, inside)
        return Expected(at, "S t / R_i", say("burst.by-netting"))
    if shell.material in BRITTLE or metal.yield_strength is None or metal.ultimate is None:
        return None
    at = faupel_burst(metal.yield_strength, metal.ultimate, inside, inside + shell.usual)
    return Expected(at, "(2/√3) S_y (2 − S_y/S_u) ln(R_o/R_i)", say("burst.by-faupel"))
