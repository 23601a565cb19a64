"""What must be read before a test: a stable code, and a sentence that says what to do."""

from dataclasses import replace

from toadbell.core.answers import Caution, CautionCode
from toadbell.core.phrases import say
from toadbell.core.physics.content import Content
from toadbell.core.physics.materials import BRITTLE, MATERIALS, PLASTICS, weakening
from toadbell.core.physics.steam import steam_energy
from toadbell.core.physics.water import BOILS
from toadbell.core.plan import kit, prepare
from toadbell.core.plan.acceptance import acceptance_cautions
from toadbell.core.plan.bases import BASES, applies
from toadbell.core.plan.ceiling import OPEN_ENDED
from toadbell.core.plan.context import TOLERANCE, PlanContext, caution
from toadbell.core.plan.gas import gas_cautions
from toadbell.core.plan.pumping import AIR_LIMIT
from toadbell.core.plan.stops import PLASTIC_UNDER_AIR, plastic_let_pass
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.burst import expected_burst
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.parts import hoop_growth, working_temperature
from toadbell.core.vessel.strength import end_force
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
    if BASES[w.basis].by == "steam":
        return _steaming(sheet, w)
    if BASES[w.basis].by == "burst":
        return _bursting(sheet, w)
    return [
        *_wall_cautions(sheet, w),
        *_material_cautions(sheet),
        *_basis_cautions(sheet, w),
        *kit.gauge_cautions(sheet, w.target),
        *kit.wrench_cautions(sheet),
        *kit.pump_cautions(sheet, w),
        *_fitting_cautions(sheet, w),
        *_opening_cautions(sheet, w),
        *_design_cautions(sheet, w),
        *_content_cautions(sheet, w),
        *_temperature_cautions(sheet),
        *_air_cautions(sheet, w),
        *_band_cautions(sheet, w),
        *gas_cautions(sheet, w),
        *acceptance_cautions(sheet, w),
    ]


def _bursting(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What taking an article to failure asks for: far from it, its ends framed for what they will see."""
    found = expected_burst(sheet)
    force = end_force(w.pressure, sheet.shell.inside_diameter) if sheet.shell else None
    return [
        caution("no-strength-proof", "burst"),
        caution("burst-remote", "" if force is not None else "plain", force=force),
        *([] if found is not None else [caution("burst-unknown", pressure=w.pressure)]),
        *kit.gauge_cautions(sheet, w.target),
        *kit.pump_cautions(sheet, w),
        *_fitting_cautions(sheet, w),
        *_opening_cautions(sheet, w),
        *_temperature_cautions(sheet),
    ]


def _steaming(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What a first steam asks for; nothing of it is of water that is shut in."""
    found = [
        *_wall_cautions(sheet, w),
        *_material_cautions(sheet),
        *_basis_cautions(sheet, w),
        *kit.gauge_cautions(sheet, w.target),
        *_fitting_cautions(sheet, w),
    ]
    if w.volume is not None:
        found.append(caution("steam-energy", stored=steam_energy(w.volume / 2, w.pressure), pressure=w.pressure))
    if sheet.thermometer is None:
        found.append(caution("no-thermometer", "steam"))
    if sheet.burner is None or w.volume is None:
        found.append(caution("heating-unknown"))
    return found


def _wall_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    found = []
    shell = sheet.shell
    low_tank = sheet.box is not None or sheet.cask is not None
    if not low_tank and (shell is None or not shell.measured):
        found.append(caution("wall-assumed"))
    if not w.top.known:
        found.append(caution("ceiling-unknown"))
    if shell and shell.form == "cylinder" and len(sheet.ends) < 2 and sheet.kind not in OPEN_ENDED:
        found.append(caution("ends-unknown", "one" if sheet.ends else ""))
    found += _hot_cautions(sheet)
    if w.above_allowable and not (shell and shell.measured):
        found.append(Caution(code="above-allowable", says=w.allowable_sentence()))
    wear = w.wear
    if wear is not None and wear.left is not None and 0 < wear.left < SOON and wear.least is not None and wear.loss:
        found.append(caution("wall-wearing", rate=wear.loss * YEAR, least=wear.least, years=wear.left / YEAR))
    if sheet.tubes:
        found.append(caution("outside-pressure"))
    return found


def _hot_cautions(sheet: VesselSheet) -> list[Caution]:
    """A metal whose strength at work no table here tells."""
    hot = working_temperature(sheet)
    lost = sorted(
        say(f"material.{name}")
        for name in sheet.materials
        if MATERIALS[name].design_stress and weakening(name, hot) is None
    )
    return [caution("hot-strength-unknown", metals=lost, at=hot)] if lost else []


def _material_cautions(sheet: VesselSheet) -> list[Caution]:
    """What the materials of shell, ends and tubes ask for."""
    if sheet.shell is None:
        return []
    found = []
    used = sheet.materials
    if used & BRITTLE:
        found.append(caution("brittle", materials=sorted(say(f"material.{name}") for name in used & BRITTLE)))
    soft = {name for name in used if MATERIALS[name].creeps and name not in BRITTLE and name != "other"}
    if soft:
        found.append(caution("creeps", materials=sorted(say(f"material.{name}") for name in soft)))
    if "other" in used:
        found.append(caution("material-unknown"))
    if "brass" in used and sheet.kind == "boiler":
        found.append(caution("dezincification"))
    if sheet.medium == "water" and any(material.startswith("stainless") for material in used):
        found.append(caution("chloride"))
    cold = sheet.water_temperature is not None and sheet.water_temperature < WARM_STEEL
    if cold and sheet.medium == "water" and "carbon-steel" in used and sheet.minimum_temperature is None:
        found.append(caution("cool-steel", at=sheet.water_temperature, least=WARM_STEEL))
    return found


def _basis_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    found = []
    fits, why = applies(w.basis, sheet)
    rule = BASES[w.basis]
    if not fits:
        found.append(caution("basis-unusual", basis=rule.name, why=why))
    if rule.asks_reason and not sheet.reason:
        found.append(caution("reason-missing"))
    if not rule.strength:
        found.append(caution("no-strength-proof", rule.by if rule.by in ("relief", "steam") else ""))
    return [*found, *_relief_cautions(sheet, w)]


def _relief_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A relief valve that lets the vessel see more than is wanted: to be set lower, or proved where plate, walls and
    ceiling let it.
    """
    lifts = sheet.relief_set
    if lifts is None or lifts <= sheet.working_pressure:
        return []
    provable = w.top.pressure / w.factor if w.top.known and w.top.pressure is not None and w.factor else None
    limits = [limit for limit in (sheet.plate_pressure, w.may_work.pressure, provable) if limit is not None]
    known = sheet.plate_pressure is not None or (w.may_work.known and provable is not None)
    may = known and all(lifts <= limit for limit in limits)
    return [
        caution(
            "relief-above-wanted",
            lifts=lifts,
            do=say("caution.relief-lower-or-prove" if may else "caution.relief-lower"),
        )
    ]


def _fitting_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    unrated = [f for f in sheet.fittings if f.stays_on and f.rating is None]
    stay = [f.name for f in unrated if f.for_test in (None, "keep")]
    closed = [f.name for f in unrated if f.for_test not in (None, "keep")]
    told: tuple[tuple[CautionCode, list[str]], ...] = (("fitting-unrated", stay), ("closure-unrated", closed))
    return [
        caution(code, "more" if len(names) > 3 else "", names=names[:3], least=w.target * TOLERANCE)
        for code, names in told
        if names
    ]


def _opening_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What the openings still ask for."""
    if not prepare.in_use(sheet):
        return []
    found = []
    missing, open_still, kept = prepare.missing_roles(sheet), prepare.undecided(sheet), prepare.wrongly_kept(sheet)
    if missing:
        found.append(caution("openings-missing", roles=missing))
    if open_still:
        found.append(caution("opening-undecided", names=open_still))
    if kept:
        found.append(caution("must-not-see-test", names=kept))
    if w.vent is not None and w.volume and sheet.medium == "water" and w.vent.air > AIR_LIMIT * w.volume:
        found.append(_air_caution(w.vent))
    return found


def _air_caution(vent: Vent) -> Caution:
    turn = vent.remedy
    if turn is None:
        return caution("air-stays", air=vent.air, vent=vent.name)
    form = "both" if turn.tilt and turn.roll else "tilt" if turn.tilt else "roll" if turn.roll else "level"
    way = say(f"caution.turn-{form}", tilt=turn.tilt, roll=turn.roll)
    return caution("air-stays", "turn", air=vent.air, vent=vent.name, way=way, left=turn.air)


def _design_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What a departure from a proven design and stages of one's own ask for."""
    found = []
    change = hoop_growth(sheet)
    if change is not None and sheet.proven is not None and sheet.shell is not None:
        same = (sheet.shell.inside_diameter, sheet.shell.thinnest) == (sheet.proven.inside_diameter, sheet.proven.wall)
        if not same or change > 0:
            found.append(
                caution("requalify", "at", change=change, wanted=sheet.working_pressure, wall=sheet.shell.thinnest)
            )
    wanted = sheet.working_pressure + w.head
    passed = wanted <= w.target * (1 + 1e-9)
    if sheet.stages and passed and not any(abs(s.target - wanted) <= 0.05 * w.target for s in sheet.stages):
        found.append(caution("no-pause-at-wanted", wanted=wanted))
    if sheet.stages and sheet.stages[0].target > 0.25 * w.target * (1 + 1e-9):
        found.append(caution("no-early-look"))
    return found


def _content_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What water, air and warmth in the vessel ask for."""
    if w.content is None or w.volume is None:
        return []
    found = []
    drawn = shape.volume(sheet.model_copy(update={"volume": None}))
    if sheet.volume is not None and drawn is not None and abs(drawn - sheet.volume) > SAME_VOLUME * sheet.volume:
        found.append(caution("volume-differs", drawn=drawn, stated=sheet.volume))
    rise = w.content.pressure_per_kelvin(w.pressure)
    if sheet.medium == "water":
        found += _water_cautions(sheet, w, rise)
    return [*found, *kit.thermometer_cautions(sheet, w, rise)]


def _water_cautions(sheet: VesselSheet, w: PlanContext, rise: float) -> list[Caution]:
    """What is not known of wall and air, too much air, and warming."""
    found = []
    if w.wet is not None and w.wet.give == 0:
        found.append(caution("give-unknown"))
    if sheet.trapped_air is None and w.vent is None:
        found.append(caution("air-unstated"))
    if sheet.trapped_air and w.volume and sheet.trapped_air > AIR_LIMIT * w.volume * (1 + 1e-9):
        found.append(caution("trapped-air", part=sheet.trapped_air / w.volume))
    left = w.warming_to_ceiling
    later = replace(w.content, temperature=w.content.temperature + 10) if isinstance(w.content, Content) else None
    soon = later.pressure_per_kelvin(w.pressure) if later and later.temperature < BOILS else rise
    more = max(rise, soon)
    if (left is not None and left < HEATS) or more > 0.02 * w.pressure:
        found.append(caution("blocked-in-heating", "" if left is None else "ceiling", more=more, left=left))
    if w.static == 0 and shape.height(sheet) is None and sheet.kind != "pipework":
        found.append(caution("head-unknown"))
    return found


def _temperature_cautions(sheet: VesselSheet) -> list[Caution]:
    if sheet.water_temperature is not None or (sheet.medium == "air" and sheet.minimum_temperature is None):
        return []
    return [caution("temperature-unknown", "air" if sheet.medium == "air" else "")]


def _air_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """Plastic that its maker lets be tried with air."""
    plastics = [material for material in sheet.materials if material in PLASTICS]
    if sheet.medium != "air" or not plastics or (w.pressure > PLASTIC_UNDER_AIR and not plastic_let_pass(sheet, w)):
        return []
    return [caution("plastic-under-air", "maker" if w.pressure > PLASTIC_UNDER_AIR else "")]


def _band_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A band that the ceiling has made narrower than the gauge can tell."""
    wide, told = (
        w.band_top - w.target,
        max(kit.gauge_error(sheet.gauge) or 0.0, (sheet.gauge.readable if sheet.gauge else None) or 0.0),
    )
    if w.band_top >= TOLERANCE * w.target * (1 - 1e-9) or wide >= told:
        return []
    return [caution("band-narrow", wide=wide, told=told)]
