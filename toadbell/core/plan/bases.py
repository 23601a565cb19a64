"""Schools of practice: how each gets from a base pressure to a test pressure, and when it may be used."""

import math
from dataclasses import dataclass
from typing import Literal

from toadbell.core.answers import BasisAnswer
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import Said, say
from toadbell.core.physics.materials import COLD, NOT_METAL, design_stress_at
from toadbell.core.physics.water import ROOM
from toadbell.core.plan.energy import stored_under_air
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.sheets.burst import ASKED_FACTOR
from toadbell.core.sheets.gas import GasHolder
from toadbell.core.vessel import shape
from toadbell.core.vessel.burst import expected_burst
from toadbell.core.vessel.parts import sides_bear, working_temperature

By = Literal["factor", "own", "relief", "steam", "tightness", "tightening", "gas-head", "baseline", "burst"]


@dataclass(frozen=True)
class Basis:
    """A school of practice.

    factor        on the base pressure, None where another rule holds
    uses_lambda   the factor is multiplied by the stress ratio λ
    raising       id of a stage profile
    hold          least hold, s
    look_divisor  the look pressure is P_t over this; None: the wanted pressure
    strength      proves strength
    by            what the test pressure comes from: a factor on the base pressure, one of the person's own, the relief
                  valve's lift, or a tightness trial's own pressure
    own           between what a factor of one's own may be; None where there is none
    asks_reason   why it was taken has to be said
    under_air     how far it may go under air where water cannot be used: with a reason, a shield and a stand-off
    european      by the European rule's own tables, and its second factor
    column        its pressure is told as a column of water too
    metal         it rests on the strength that metals are made to; no rule for plastic, wood or a fibre lay-up
    """

    id: str
    factor: float | None
    uses_lambda: bool = False
    raising: str = "quarters"
    hold: float = 1800.0
    look_divisor: float | None = None
    strength: bool = True
    kinds: frozenset[str] = frozenset(KINDS)
    medium: str = "water"
    by: By = "factor"
    own: tuple[float, float] | None = None
    asks_reason: bool = False
    under_air: bool = False
    european: bool = False
    column: bool = False
    metal: bool = False

    @property
    def procedure(self) -> str:
        """The kind of trial that rests on it."""
        return self.by if self.by in OWN_KIND else "proof"

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"basis.{self.id}")

    @property
    def rule(self) -> Said:
        """How it gets to the test pressure, in symbols."""
        return say(f"basis.{self.id}-rule")

    @property
    def source(self) -> Said:
        """Where it comes from."""
        return say(f"basis.{self.id}-source")

    @property
    def used(self) -> Said:
        """When it is used."""
        return say(f"basis.{self.id}-used")

    @property
    def disputed(self) -> Said:
        """What others hold against it."""
        return say(f"basis.{self.id}-disputed")


OWN_KIND = ("tightness", "relief", "steam", "tightening", "gas-head", "baseline", "burst")
"""Rules that are of a kind of trial of their own; every other is of a proof."""
OWN_PRESSURE = ("tightness", "baseline")
"""Rules held at a pressure of one's own, up to the wanted one."""
_METAL_VESSELS = frozenset({"boiler", "receiver", "fermenter", "chamber", "joint", "pipework", "cooler"})
_BURST = frozenset({"chamber", "receiver", "fermenter", "boiler", "joint", "pipework"})
_RELIEF = frozenset({"boiler", "receiver", "fermenter", "digester"})

BASES: dict[str, Basis] = {
    each.id: each
    for each in (
        Basis("proof-150", 1.5),
        Basis("first-200", 2.0, kinds=frozenset({"boiler", "joint"})),
        Basis("repeat-150", 1.5, hold=1200.0, kinds=frozenset({"boiler"})),
        Basis("code-130", 1.3, True, look_divisor=1.3, kinds=_METAL_VESSELS, metal=True),
        Basis("code-143", 1.43, True, kinds=_METAL_VESSELS, european=True, metal=True),
        Basis("piping-150", 1.5, True, raising="single", hold=600.0, kinds=frozenset({"pipework", "joint", "cooler"})),
        Basis(
            "air-110",
            1.1,
            True,
            raising="half-then-tenths",
            look_divisor=1.1,
            kinds=_METAL_VESSELS,
            medium="air",
            asks_reason=True,
            under_air=True,
            metal=True,
        ),
        Basis("chamber", 1.5, raising="half-then-tenths", kinds=frozenset({"chamber", "joint"}), own=(1.25, 2.0)),
        Basis("relief", None, raising="single", strength=False, kinds=_RELIEF, medium="any", by="relief"),
        Basis(
            "steam",
            None,
            raising="steam",
            hold=300.0,
            strength=False,
            kinds=frozenset({"boiler"}),
            medium="any",
            by="steam",
        ),
        Basis(
            "tightening",
            1.5,
            raising="single",
            hold=600.0,
            kinds=frozenset({"joint", "pipework"}),
            by="tightening",
        ),
        Basis("tight", None, raising="single", strength=False, medium="any", by="tightness"),
        Basis(
            "gas-head",
            1.5,
            raising="single",
            strength=False,
            kinds=frozenset({"digester", "sheet-tank"}),
            medium="any",
            by="gas-head",
            column=True,
        ),
        Basis("burst", None, raising="half-then-tenths", strength=False, kinds=_BURST, by="burst"),
        Basis("baseline", None, raising="single", strength=False, medium="any", by="baseline"),
        Basis("own", None, by="own", own=(1.0, 4.0), asks_reason=True),
    )
}


RELIEF_LIFT = next(each.id for each in BASES.values() if each.by == "relief")
"""What a relief trial rests on."""
STEAM = next(each.id for each in BASES.values() if each.by == "steam")
"""What a first steam rests on."""
TIGHT = next(each.id for each in BASES.values() if each.by == "tightness")
"""What a tightness trial rests on."""


BURST = next(each.id for each in BASES.values() if each.by == "burst")
"""What taking an article to failure rests on."""
GAS_HEAD = next(each.id for each in BASES.values() if each.by == "gas-head")
"""What a gas-head trial rests on."""


def holder_of(sheet: VesselSheet, basis: str) -> GasHolder | None:
    """What gas is held in at a trial on a basis: as the sheet says; of a gas-head trial a stiff container otherwise."""
    if sheet.medium != "air" or BASES[basis].by != "gas-head":
        return None
    return sheet.holder or GasHolder.model_construct()


def pot_of(sheet: VesselSheet, basis: str) -> float | None:
    """The small pot that a relief valve is tried on with air, m³: so little stores next to nothing; None for any other
    trial.
    """
    return sheet.relief_pot if BASES[basis].by == "relief" and sheet.medium == "air" else None


def chosen_basis(sheet: VesselSheet) -> str:
    """The basis the sheet names, a tightness trial's own, or its kind's default.

    Raises SheetError for one that does not exist, or that contradicts the kind of trial.
    """
    own = next((rule.id for rule in BASES.values() if rule.by in OWN_KIND and rule.by == sheet.procedure), None)
    basis = sheet.basis or own or default_basis(sheet)
    if basis not in BASES:
        raise SheetError(f"“{basis}” is not a basis: one of {', '.join(BASES)}", "basis")
    rule = BASES[basis]
    asked = "proof" if sheet.procedure == "expansion" else sheet.procedure  # which is a proof, measured
    if asked is not None and rule.procedure != asked:
        says = f"“{basis}” is the basis of a {rule.procedure} trial, and this is to be one of {sheet.procedure}"
        raise SheetError(f"{says}: leave one of the two out", "basis")
    if sheet.tight_at is not None and rule.by not in OWN_PRESSURE:
        says = "only a tightness trial or a baseline is held at a pressure of one's own: leave it out"
        raise SheetError(says, "tight_at")
    if rule.own and rule.by == "factor" and sheet.factor is not None and not rule.own[0] <= sheet.factor <= rule.own[1]:
        raise SheetError(
            f"{sheet.factor:g} is outside {rule.own[0]:.2f} to {rule.own[1]:.1f}; with a reason of your own use the "
            "basis “own”",
            "factor",
        )
    return basis


def default_basis(sheet: VesselSheet) -> str:
    """The kind's basis; for a boiler that passed a trial before, the repeat test."""
    kind = KINDS[sheet.kind]
    return kind.repeat_basis if kind.repeat_basis and sheet.proven_before is not None else kind.basis


def base_pressure(sheet: VesselSheet) -> float:
    """The pressure that is to be proven, Pa; raises SheetError when the plate is asked for and not known."""
    if sheet.base == "wanted":
        return sheet.working_pressure
    if sheet.base == "relief":
        if sheet.relief_set is None:
            raise SheetError("the relief valve is chosen as base, but relief_set is not given", "base")
        return sheet.relief_set
    if sheet.plate_pressure is None:
        raise SheetError("the plate is chosen as base, but plate_pressure is not given", "base")
    return sheet.plate_pressure


def governing_stresses(sheet: VesselSheet, *, european: bool = False) -> tuple[float, float] | None:
    """Design stress cold and hot, Pa, of the material that sets λ; None where it works cold or where a table does not
    reach.

    european  by the European rule's own tables
    """
    hot = working_temperature(sheet)
    if hot <= COLD:
        return None
    cold = sheet.water_temperature or ROOM
    pairs = []
    for material in sheet.materials:
        one, other = (design_stress_at(material, at, european=european) for at in (cold, hot))
        if not one or not other:
            return None
        pairs.append((one, other))
    return min(pairs, key=lambda pair: pair[0] / pair[1], default=None)


def lowest_stress_ratio(sheet: VesselSheet, *, european: bool = False) -> float | None:
    """λ over the materials of shell, ends and tubes; 1 where it works cold; None where a table does not reach."""
    if sheet.shell is None or working_temperature(sheet) <= COLD:
        return 1.0
    stresses = governing_stresses(sheet, european=european)
    return None if stresses is None else max(1.0, stresses[0] / stresses[1])


def total_factor(basis: str, sheet: VesselSheet) -> float | None:
    """What the base pressure is multiplied by under a basis; None where it is not a factor or λ is not known."""
    rule = BASES[basis]
    if rule.by == "own" or (rule.own and sheet.factor is not None and sheet.basis in (None, basis)):
        return sheet.factor
    if rule.factor is None or not rule.uses_lambda:
        return rule.factor
    ratio = lowest_stress_ratio(sheet, european=rule.european)
    if ratio is None:
        return None
    return max(1.43, 1.25 * ratio) if rule.european else rule.factor * ratio


def test_pressure(basis: str, sheet: VesselSheet) -> float | None:
    """Test pressure at the highest point under a basis, Pa; None where something it needs is not known."""
    by = BASES[basis].by
    if by in ("relief", "steam"):
        return sheet.relief_set
    if by == "burst":
        return burst_aim(sheet)
    if by in OWN_PRESSURE:
        tight = KINDS[sheet.kind].tight_pressure
        usual = sheet.working_pressure
        if tight is not None:
            usual = _may_store(sheet, min(tight, usual, _sides_bear(sheet)))
        return usual if sheet.tight_at is None else sheet.tight_at
    factor = total_factor(basis, sheet)
    return None if factor is None else factor * base_pressure(sheet)


def _sides_bear(sheet: VesselSheet) -> float:
    """What the flat sides of a tank bear, Pa, rounded down to two figures; without limit where it has none."""
    found = None if sheet.box is None else sides_bear(sheet.box, sheet.medium, working_temperature(sheet))
    if not found:
        return math.inf
    return _down(found)


def _may_store(sheet: VesselSheet, pressure: float) -> float:
    """The same pressure, or as far down as what its air may store by its kind, Pa."""
    volume, cap = shape.volume(sheet), KINDS[sheet.kind].air_energy_cap
    if sheet.medium != "air" or volume is None or stored_under_air(volume, pressure) <= cap:
        return pressure
    low, high = 0.0, pressure
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if stored_under_air(volume, middle) <= cap else (low, middle)
    return _down(low)


def _down(pressure: float) -> float:
    """Rounded down to two figures, Pa."""
    step = 10.0 ** (math.floor(math.log10(pressure)) - 1)
    return math.floor(pressure / step) * step


BEYOND_ASKED = 1.1
"""A burst is planned so far beyond what is asked of the design, at the least."""


def burst_aim(sheet: VesselSheet) -> float:
    """How far an article has to be taken, Pa: to the expected burst, and beyond what is asked of its design."""
    found = expected_burst(sheet)
    asked = BEYOND_ASKED * (sheet.burst_factor or ASKED_FACTOR) * sheet.working_pressure
    return asked if found is None else max(asked, found.pressure)


def side_by_side(sheet: VesselSheet) -> list[BasisAnswer]:
    """Every school with its result for this vessel, and whether it applies or why not."""
    return [_answer(basis, sheet) for basis in BASES]


def _answer(basis: str, sheet: VesselSheet) -> BasisAnswer:
    rule = BASES[basis]
    fits, why = applies(basis, sheet)
    return BasisAnswer(
        id=basis,
        name=rule.name,
        rule=rule.rule,
        factor=total_factor(basis, sheet),
        test_pressure=test_pressure(basis, sheet),
        default=basis == default_basis(sheet),
        applies=fits,
        strength=rule.strength,
        own_factor=rule.own is not None,
        own_pressure=rule.by in OWN_PRESSURE,
        asks_reason=rule.asks_reason,
        why=why,
        disputed=rule.disputed,
        source=rule.source,
    )


def applies(basis: str, sheet: VesselSheet) -> tuple[bool, str]:
    """May a basis be used for this vessel, and when it is used or why not, in a sentence."""
    rule = BASES[basis]
    if sheet.kind not in rule.kinds:
        return False, f"Not for this kind of vessel. {rule.used}"
    if rule.metal and (others := sorted(sheet.materials & NOT_METAL)):
        return False, say("basis.metal-only", materials=[say(f"material.{one}") for one in others])
    if rule.medium not in ("any", sheet.medium):
        return False, f"It asks for {rule.medium}, and this plan is under {sheet.medium}."
    if rule.by in ("relief", "steam") and sheet.relief_set is None:
        return False, "The relief valve's set pressure is not known."
    if rule.uses_lambda and lowest_stress_ratio(sheet, european=rule.european) is None:
        return False, "No table here gives this material's strength at that temperature."
    return True, rule.used
