"""What must be read before a test: a stable code, and a sentence that says what to do."""

import math

from toadbell.core import units
from toadbell.core.answers import Caution
from toadbell.core.plan import kit, prepare
from toadbell.core.plan.bases import BASES, applies
from toadbell.core.plan.working import Working
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.materials import MATERIALS
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.strength import hoop_growth
from toadbell.core.vessel.wear import YEAR

AIR_LIMIT = 0.001
"""Air left in that calls for venting again, as a part of the volume."""
SAME_VOLUME = 0.05
"""Part by which a stated volume may differ from the drawn one before somebody should look."""
SOON = 3 * YEAR
"""Time until the least wall from where it is said, s."""
HOTTEST = 321.15
"""No test above 48 °C (ASME BPVC VIII-1, UG-99(h))."""
WARM_STEEL = 288.15
"""Carbon steel of unknown toughness is tested with water of 15 °C or more."""


def cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    """Every caution of a plan."""
    return [
        *_wall_cautions(sheet, w),
        *_material_cautions(sheet),
        *_basis_cautions(sheet, w),
        *kit.gauge_cautions(sheet, w.target, w.pressure_unit),
        *kit.wrench_cautions(sheet),
        *kit.pump_cautions(sheet, w),
        *_fitting_cautions(sheet),
        *_opening_cautions(sheet, w),
        *_design_cautions(sheet, w),
        *_content_cautions(sheet, w),
        *_temperature_cautions(sheet),
    ]


def _wall_cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    found = []
    shell = sheet.shell
    low_tank = sheet.box is not None or sheet.cask is not None
    if not low_tank and (shell is None or not shell.measured):
        found.append(
            Caution(code="wall-assumed", says="The wall is not measured. Measure it where water stands, or the ceiling is a guess.")
        )
    if not w.top.known:
        found.append(
            Caution(
                code="ceiling-unknown",
                says="The ceiling is not known: a wall, an end or a strength is missing. Ask the maker or your inspector for a limit.",
            )
        )
    elif shell and not sheet.ends and shell.form == "cylinder":
        found.append(
            Caution(code="ends-unknown", says="No ends are given, so the ceiling is the shell's alone. A flat end may be far weaker.")
        )
    if w.above_allowable and not (shell and shell.measured):
        found.append(Caution(code="above-allowable", says=w.allowable_sentence()))
    if w.wear is not None and w.wear.left is not None and 0 < w.wear.left < SOON and w.wear.least is not None and w.wear.loss:
        rate = units.write(w.wear.loss * YEAR, "length", "mm", figures=2)
        found.append(
            Caution(
                code="wall-wearing",
                says=f"Losing {rate} a year, the wall is down to the {w.long(w.wear.least, 3)} that the wanted pressure asks for in "
                f"{w.wear.left / YEAR:.2g} years. Measure it before each season.",
            )
        )
    if sheet.tubes:
        found.append(
            Caution(
                code="outside-pressure",
                says="Tubes and flues are pressed from outside: a dented or thin one collapses long before it would burst. Look into each.",
            )
        )
    return found


def _material_cautions(sheet: VesselSheet) -> list[Caution]:
    """What the materials of shell, ends and tubes ask for."""
    if sheet.shell is None:
        return []
    found = []
    used = sheet.materials
    if any(MATERIALS[material].brittle_or_creeping for material in used):
        found.append(
            Caution(code="brittle", says="This material gives no warning before it breaks. Only the maker's or a stated limit holds.")
        )
    if "brass" in used and sheet.kind == "boiler":
        found.append(Caution(code="dezincification", says="Brass loses its zinc in a boiler and goes to sponge. Bronze or copper instead."))
    if sheet.medium == "water" and any(material.startswith("stainless") for material in used):
        found.append(Caution(code="chloride", says="Stainless: fill with water of 50 ppm chloride or less, and drain it after."))
    cold = sheet.water_temperature is not None and sheet.water_temperature < WARM_STEEL
    if cold and sheet.medium == "water" and "carbon-steel" in used and sheet.minimum_temperature is None:
        at = units.write(sheet.water_temperature or 0.0, "temperature")
        found.append(
            Caution(code="cool-steel", says=f"Steel of unknown grade and water at {at}: warm it to 15 °C or more, cold steel is brittle.")
        )
    return found


def _basis_cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    found = []
    fits, why = applies(w.basis, sheet)
    rule = BASES[w.basis]
    if not fits:
        found.append(Caution(code="basis-unusual", says=f"{rule.name}: {why[0].lower()}{why[1:]} Take another, or say why this one."))
    if w.basis in ("own", "air-110") and not sheet.reason:
        found.append(Caution(code="reason-missing", says="Say why this factor and not a usual one: it stays on the record."))
    if not rule.strength:
        found.append(Caution(code="no-strength-proof", says="This trial shows leaks. It proves no strength."))
    if sheet.relief_set is not None and sheet.relief_set > sheet.working_pressure:
        found.append(
            Caution(
                code="relief-above-wanted",
                says=f"The relief valve lifts at {w.show(sheet.relief_set)}, so the vessel can see that. Set it lower, or prove that pressure.",
            )
        )
    return found


def _fitting_cautions(sheet: VesselSheet) -> list[Caution]:
    unrated = [f.name for f in sheet.fittings if f.stays_on and f.rating is None]
    if not unrated:
        return []
    names = f"{', '.join(unrated[:3])}{' and others' if len(unrated) > 3 else ''}"
    return [Caution(code="fitting-unrated", says=f"No rating is known of what stays on: {names}. Find it out, or blank the opening.")]


def _opening_cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    """What the openings still ask for."""
    if not prepare.in_use(sheet):
        return []
    found = []
    missing, open_still, kept = prepare.missing_roles(sheet), prepare.undecided(sheet), prepare.wrongly_kept(sheet)
    if missing:
        found.append(Caution(code="openings-missing", says=f"No opening is given to {' or '.join(missing)}. Say which it is to be."))
    if open_still:
        found.append(Caution(code="opening-undecided", says=f"Nobody said what to do for the test with {_listed(open_still)}."))
    if kept:
        found.append(
            Caution(code="must-not-see-test", says=f"The test would spoil what sits in {_listed(kept)}. Take it off and plug the opening.")
        )
    if w.vent is not None and w.volume and sheet.medium == "water" and w.vent.air > AIR_LIMIT * w.volume:
        found.append(Caution(code="air-stays", says=_air_sentence(w.vent)))
    return found


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _air_sentence(vent: Vent) -> str:
    stays = f"{units.write(vent.air, 'volume', 'L', figures=2)} of air would stay above {vent.name}."
    turn = vent.remedy
    if turn is None:
        return f"{stays} Vent it at the highest point, or suck it out with a thin tube."
    ways = [f"tilt it to {units.write(turn.tilt, 'angle', 'deg', figures=2)}"] if turn.tilt else []
    ways += [f"roll it to {units.write(turn.roll, 'angle', 'deg', figures=2)}"] if turn.roll else []
    way = " and ".join(ways) or "lay it level"
    return f"{stays} {way[0].upper()}{way[1:]}, and {units.write(turn.air, 'volume', 'mL', figures=2)} stays."


def _design_cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    """What a departure from a proven design and stages of one's own ask for."""
    found = []
    change = hoop_growth(sheet)
    if change is not None and sheet.proven is not None and sheet.shell is not None:
        same = (sheet.shell.inside_diameter, sheet.shell.thinnest) == (sheet.proven.inside_diameter, sheet.proven.wall)
        if not same or change > 0:
            found.append(
                Caution(
                    code="requalify",
                    says=f"It departs from the design that was proven: the hoop stress changes by {change:+.0%}. Prove it anew.",
                )
            )
    wanted = sheet.working_pressure + w.head
    if sheet.stages and not any(abs(stage.target - wanted) <= 0.05 * w.target for stage in sheet.stages):
        found.append(Caution(code="no-pause-at-wanted", says=f"None of the stages pauses at the wanted {w.show(wanted)}. Put one there."))
    if sheet.stages and sheet.stages[0].target > 0.25 * w.target * (1 + 1e-9):
        found.append(
            Caution(
                code="no-early-look", says="The first stage is above a quarter of the test. Look for the rig's own leaks lower down first."
            )
        )
    return found


def _content_cautions(sheet: VesselSheet, w: Working) -> list[Caution]:
    """What water, air and warmth in the vessel ask for."""
    if w.content is None or w.volume is None:
        return []
    found = []
    drawn = shape.volume(sheet.model_copy(update={"volume": None}))
    if sheet.volume is not None and drawn is not None and abs(drawn - sheet.volume) > SAME_VOLUME * sheet.volume:
        found.append(
            Caution(
                code="volume-differs",
                says=f"Its sizes make {units.write(drawn, 'volume', 'L', figures=3)}, and {units.write(sheet.volume, 'volume', 'L', figures=3)} "
                "is stated. Measure again, or weigh it full.",
            )
        )
    rise = w.content.pressure_per_kelvin(w.pressure)
    if sheet.medium == "water":
        if w.wet is not None and w.wet.give == 0:
            found.append(
                Caution(
                    code="give-unknown", says="How much the wall gives is not known and was left out: expect more strokes than are said."
                )
            )
        if sheet.trapped_air and sheet.trapped_air > AIR_LIMIT * w.volume * (1 + 1e-9):
            part = sheet.trapped_air / w.volume
            found.append(Caution(code="trapped-air", says=f"Air left in is {part:.1%} of the volume. Vent again at the highest point."))
        if math.isfinite(rise) and rise > 0.02 * w.pressure:
            found.append(Caution(code="blocked-in-heating", says=_heating_sentence(w, rise)))
    return [*found, *kit.thermometer_cautions(sheet, w, rise)]


def _heating_sentence(w: Working, rise: float) -> str:
    left = w.warming_to_ceiling
    reach = "" if left is None or left < 0 else f"; {left:.2g} °C more would reach the ceiling"
    return (
        f"Shut in and warming, it gains {w.show(rise, figures=2)} per °C{reach}. "
        "Keep it out of the sun, with a relief valve on the rig or somebody watching."
    )


def _temperature_cautions(sheet: VesselSheet) -> list[Caution]:
    if sheet.medium == "air":
        return []
    if sheet.water_temperature is None:
        return [
            Caution(code="temperature-unknown", says="How warm the water is was not said; it is reckoned at 20 °C. Measure it on the day.")
        ]
    if sheet.water_temperature <= HOTTEST:
        return []
    at = units.write(sheet.water_temperature, "temperature")
    return [Caution(code="too-hot", says=f"The water is at {at}. Let it come down to 48 °C or less: it scalds, and the wall is weaker.")]
