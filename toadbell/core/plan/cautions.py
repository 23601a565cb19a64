"""What must be read before a test: a stable code, and a sentence that says what to do."""

from dataclasses import replace

from toadbell.core import units
from toadbell.core.answers import Caution
from toadbell.core.physics.content import Content
from toadbell.core.physics.materials import BRITTLE, MATERIALS, PLASTICS, weakening
from toadbell.core.physics.water import BOILS
from toadbell.core.plan import kit, prepare
from toadbell.core.plan.acceptance import acceptance_cautions
from toadbell.core.plan.bases import BASES, applies
from toadbell.core.plan.ceiling import OPEN_ENDED
from toadbell.core.plan.context import TOLERANCE, PlanContext
from toadbell.core.plan.pumping import AIR_LIMIT
from toadbell.core.plan.stops import PLASTIC_UNDER_AIR, plastic_let_pass
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.parts import hoop_growth, working_temperature
from toadbell.core.vessel.wear import YEAR

SAME_VOLUME = 0.05
"""Part by which a stated volume may differ from the drawn one before somebody should look."""
SOON = 3 * YEAR
"""Time until the least wall from where it is said, s."""
HEATS = 40.0
"""Warming that sun and stove can bring to a shut-in vessel, K: a ceiling nearer than that is said."""
WARM_STEEL = 288.15
"""Carbon steel of unknown toughness is tested with water of 15 °C or more."""


def cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
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
        *_air_cautions(sheet, w),
        *_band_cautions(sheet, w),
        *acceptance_cautions(sheet, w),
    ]


def _wall_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
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
    if shell and shell.form == "cylinder" and len(sheet.ends) < 2 and sheet.kind not in OPEN_ENDED:
        given = "One end of two is given" if sheet.ends else "No ends are given"
        says = f"{given}, so what the others bear is not known; a flat end may be far weaker than the shell. Give both ends."
        found.append(Caution(code="ends-unknown", says=says))
    found += _hot_cautions(sheet)
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


def _hot_cautions(sheet: VesselSheet) -> list[Caution]:
    """A metal whose strength at work no table here tells."""
    hot = working_temperature(sheet)
    lost = sorted(MATERIALS[name].name for name in sheet.materials if MATERIALS[name].design_stress and weakening(name, hot) is None)
    if not lost:
        return []
    at = units.write(hot, "temperature", figures=3)
    says = f"How strong {_listed(lost).lower()} is at {at} is not known here, so what it may work at is not known. Ask the maker or your inspector."
    return [Caution(code="hot-strength-unknown", says=says)]


def _material_cautions(sheet: VesselSheet) -> list[Caution]:
    """What the materials of shell, ends and tubes ask for."""
    if sheet.shell is None:
        return []
    found = []
    used = sheet.materials
    if used & BRITTLE:
        names = _listed(sorted(MATERIALS[name].name for name in used & BRITTLE))
        says = f"{names} gives no warning before it breaks. Only the maker's or a stated limit holds: ask for it, and keep everybody away."
        found.append(Caution(code="brittle", says=says))
    soft = {name for name in used if MATERIALS[name].creeps and name not in BRITTLE and name != "other"}
    if soft:
        names = _listed(sorted(MATERIALS[name].name for name in soft))
        says = f"{names} goes on giving under a load that stays, more so when warm. Keep to the maker's limit, and do not leave it under pressure."
        found.append(Caution(code="creeps", says=says))
    if "other" in used:
        says = "What it is made of is not known, so neither is what it bears. Find out, or ask the maker for a limit."
        found.append(Caution(code="material-unknown", says=says))
    if "brass" in used and sheet.kind == "boiler":
        found.append(
            Caution(code="dezincification", says="Brass loses its zinc in a boiler and goes to sponge. Use bronze or copper instead.")
        )
    if sheet.medium == "water" and any(material.startswith("stainless") for material in used):
        found.append(Caution(code="chloride", says="Stainless: fill with water of 50 ppm chloride or less, and drain it after."))
    cold = sheet.water_temperature is not None and sheet.water_temperature < WARM_STEEL
    if cold and sheet.medium == "water" and "carbon-steel" in used and sheet.minimum_temperature is None:
        at = units.write(sheet.water_temperature or 0.0, "temperature")
        found.append(
            Caution(code="cool-steel", says=f"Steel of unknown grade and water at {at}: cold steel is brittle. Warm it to 15 °C or more.")
        )
    return found


def _basis_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    found = []
    fits, why = applies(w.basis, sheet)
    rule = BASES[w.basis]
    if not fits:
        found.append(Caution(code="basis-unusual", says=f"{rule.name}: {why[0].lower()}{why[1:]} Take another, or say why this one."))
    if w.basis in ("own", "air-110") and not sheet.reason:
        found.append(Caution(code="reason-missing", says="Say why this factor and not a usual one: it stays on the record."))
    if not rule.strength:
        found.append(Caution(code="no-strength-proof", says="This trial shows leaks. It proves no strength: plan a proof for that."))
    return [*found, *_relief_cautions(sheet, w)]


def _relief_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A relief valve that lets the vessel see more than is wanted: to be set lower, or proved where plate, walls and ceiling let it."""
    lifts = sheet.relief_set
    if lifts is None or lifts <= sheet.working_pressure:
        return []
    provable = w.top.pressure / w.factor if w.top.known and w.top.pressure is not None and w.factor else None
    limits = [limit for limit in (sheet.plate_pressure, w.may_work.pressure, provable) if limit is not None]
    known = sheet.plate_pressure is not None or (w.may_work.known and provable is not None)
    do = (
        "Set it lower, or prove that pressure."
        if known and all(lifts <= limit for limit in limits)
        else "Set it at or under the wanted pressure."
    )
    says = f"The relief valve lifts at {w.show(lifts)}, so the vessel can see that. {do}"
    return [Caution(code="relief-above-wanted", says=says)]


def _fitting_cautions(sheet: VesselSheet) -> list[Caution]:
    unrated = [f.name for f in sheet.fittings if f.stays_on and f.rating is None]
    if not unrated:
        return []
    names = f"{', '.join(unrated[:3])}{' and others' if len(unrated) > 3 else ''}"
    return [Caution(code="fitting-unrated", says=f"No rating is known of what stays on: {names}. Find it out, or blank the opening.")]


def _opening_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What the openings still ask for."""
    if not prepare.in_use(sheet):
        return []
    found = []
    missing, open_still, kept = prepare.missing_roles(sheet), prepare.undecided(sheet), prepare.wrongly_kept(sheet)
    if missing:
        found.append(Caution(code="openings-missing", says=f"No opening is given to {' or '.join(missing)}. Say which it is to be."))
    if open_still:
        found.append(Caution(code="opening-undecided", says=f"Say what to do for the test with {_listed(open_still)}."))
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


def _design_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
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


def _content_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
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
        found += _water_cautions(sheet, w, rise)
    return [*found, *kit.thermometer_cautions(sheet, w, rise)]


def _water_cautions(sheet: VesselSheet, w: PlanContext, rise: float) -> list[Caution]:
    """What is not known of wall and air, too much air, and warming."""
    found = []
    if w.wet is not None and w.wet.give == 0:
        says = "How much the wall gives is not known and was left out: expect more strokes than are said. Count them as you pump."
        found.append(Caution(code="give-unknown", says=says))
    if sheet.trapped_air is None and w.vent is None:
        says = (
            "How much air stays in was not said, and none is reckoned with: expect more strokes. Vent at the highest point, and count them."
        )
        found.append(Caution(code="air-unstated", says=says))
    if sheet.trapped_air and w.volume and sheet.trapped_air > AIR_LIMIT * w.volume * (1 + 1e-9):
        part = sheet.trapped_air / w.volume
        found.append(Caution(code="trapped-air", says=f"Air left in is {part:.1%} of the volume. Vent again at the highest point."))
    left = w.warming_to_ceiling
    later = replace(w.content, temperature=w.content.temperature + 10) if isinstance(w.content, Content) else None
    soon = later.pressure_per_kelvin(w.pressure) if later and later.temperature < BOILS else rise
    if (left is not None and left < HEATS) or max(rise, soon) > 0.02 * w.pressure:
        found.append(Caution(code="blocked-in-heating", says=_heating_sentence(w, rise, soon)))
    if w.static == 0 and shape.height(sheet) is None and sheet.kind != "pipework":
        says = "How high it stands is not known, so what its bottom sees above its top is not counted. Give its length, or add 0.1 bar a metre."
        found.append(Caution(code="head-unknown", says=says))
    return found


def _heating_sentence(w: PlanContext, rise: float, soon: float) -> str:
    left, more = w.warming_to_ceiling, max(rise, soon)
    reach = "" if left is None else f"; {left:.2g} °C more would reach the ceiling"
    return (
        f"Shut in and warming, it gains up to {w.show(more, figures=2)} per °C{reach}. "
        "Keep it out of the sun, with a relief valve on the rig or somebody watching."
    )


def _temperature_cautions(sheet: VesselSheet) -> list[Caution]:
    if sheet.water_temperature is not None or (sheet.medium == "air" and sheet.minimum_temperature is None):
        return []
    if sheet.medium == "air":
        says = "How warm the vessel is was not said, and it has a least temperature. Measure it: the metal must be 17 °C above that."
    else:
        says = "How warm the water is was not said; it is reckoned at 20 °C. Measure it on the day."
    return [Caution(code="temperature-unknown", says=says)]


def _air_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """Plastic that its maker lets be tried with air."""
    plastics = [material for material in sheet.materials if material in PLASTICS]
    if sheet.medium != "air" or not plastics or (w.pressure > PLASTIC_UNDER_AIR and not plastic_let_pass(sheet, w)):
        return []
    what = "the maker's own limit" if w.pressure > PLASTIC_UNDER_AIR else "so low a head"
    says = f"Plastic under air, by {what}: raise it slowly, keep faces away, and never move it under pressure."
    return [Caution(code="plastic-under-air", says=says)]


def _band_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A band that the ceiling has made narrower than the gauge can tell."""
    wide, told = w.band_top - w.target, max(kit.gauge_error(sheet.gauge) or 0.0, (sheet.gauge.readable if sheet.gauge else None) or 0.0)
    if w.band_top >= TOLERANCE * w.target * (1 - 1e-9) or wide >= told:
        return []
    says = f"Between test and ceiling there are {w.show(wide, 2)}, and the gauge is only good to {w.show(told, 2)}. Ask for less, or take a finer gauge."
    return [Caution(code="band-narrow", says=says)]
