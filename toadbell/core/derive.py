"""From a vessel sheet to everything a plan needs."""

import dataclasses

from toadbell.core import units
from toadbell.core.answers import (
    Attitude,
    DeriveAnswer,
    EndForce,
    Energies,
    Growth,
    Guard,
    HoldAnswer,
    Limit,
    Pumping,
    StageAnswer,
    StandOff,
    VentAnswer,
    WallAnswer,
    Water,
)
from toadbell.core.judge.expansion import expands
from toadbell.core.judge.relief import stops_without_lift
from toadbell.core.judge.witnesses import valve_tolerance
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import LOW_HEAD, of_scale
from toadbell.core.physics import air, steam
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.materials import COLD
from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.plan import bases, detect, energy, kit, prepare, stages
from toadbell.core.plan.cautions import cautions
from toadbell.core.plan.ceiling import allowable, ceiling
from toadbell.core.plan.context import PlanContext
from toadbell.core.plan.gas import settle_time
from toadbell.core.plan.heating import heating, reached_at
from toadbell.core.plan.lines import lines_of
from toadbell.core.plan.stops import static_head, stops
from toadbell.core.plan.target import asked_pressure, gauge_head
from toadbell.core.run.guard import guards_of, steam_guards
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.vessel import filling, shape
from toadbell.core.vessel.burst import expected_burst
from toadbell.core.vessel.content import content_of, gas_in, trapped_air
from toadbell.core.vessel.openings import Vent, vent_of
from toadbell.core.vessel.parts import hoop_growth, parts_of, working_temperature
from toadbell.core.vessel.strength import end_force
from toadbell.core.vessel.wear import Wear, wear_of


def derive(sheet: VesselSheet) -> DeriveAnswer:
    """Test pressure, limits, energy, stages, hold, stops, cautions and the lines of working.

    Raises SheetError where the sheet contradicts itself.
    """
    try:
        basis, pressure = asked_pressure(sheet)
        with of_scale(pressure):
            return _derive(sheet, basis, pressure)
    except SheetError:
        raise
    except (ValueError, OverflowError) as problem:  # beyond what is known of water and steam
        raise SheetError(
            f"{units.write(sheet.working_pressure, 'pressure', 'bar')} is beyond what can be worked out here: check "
            "the unit",
            "working_pressure",
        ) from problem


def _derive(sheet: VesselSheet, basis: str, pressure: float) -> DeriveAnswer:
    rule, base = bases.BASES[basis], bases.base_pressure(sheet)
    temperature = sheet.water_temperature or ROOM
    vent = vent_of(sheet)
    head = gauge_head(sheet)
    target = pressure + head
    parts = parts_of(sheet)
    top, may_work = ceiling(sheet, parts), allowable(sheet, parts)
    volume = bases.pot_of(sheet, basis) or shape.volume(sheet)
    wet = None if volume is None else content_of(volume, sheet.shell, trapped_air(sheet, vent), temperature)
    steamed = rule.by == "steam"
    content = (
        gas_in(volume, temperature, bases.holder_of(sheet, basis))
        if sheet.medium == "air" and volume is not None
        else wet
    )
    content = None if steamed else content  # nothing is pumped
    stroke = sheet.pump.stroke if sheet.pump else None
    approach = pressure if steamed else _approach(sheet, pressure)  # a fire is never left
    failing = expected_burst(sheet) if rule.by == "burst" else None
    if rule.by == "burst":
        approach = 0.0  # and nobody is near what will fail
    steps, pauses = _steps(sheet, rule, target, head)
    if sheet.low_holds is not None and sheet.medium == "water" and len(steps) > 1:
        pauses = [max(pauses[0], sheet.low_holds), *pauses[1:]]
    plan = stages.plan_stages(
        steps, content, stroke, pauses, 0.0 if rule.by == "burst" else max(0.25 * target, approach + head)
    )
    factor = pressure / base if rule.factor is not None or rule.by == "own" else None
    w = PlanContext(
        sheet=sheet,
        parts=parts,
        basis=basis,
        base=base,
        pressure=pressure,
        head=head,
        target=target,
        top=top,
        may_work=may_work,
        volume=volume,
        static=static_head(sheet),
        hold=sheet.hold.minimum if sheet.hold else rule.hold,
        vent=vent,
        wear=wear_of(sheet),
        content=content,
        wet=wet,
        factor=factor,
    )
    hold, stored = _hold(w, rule, plan), _energies(sheet, volume, wet, pressure, trapped_air(sheet, vent) is not None)
    heated = heating(sheet, pressure) if steamed else None
    low_after = (hold.low.pressure, hold.low.long) if hold.low is not None and hold.low.chosen else None
    course = stages.course(plan, hold.minimum, hold.look_pressure, low_after)
    if heated is not None:
        course = stages.heated_course(plan, hold.minimum, heated.curve, lambda at: reached_at(heated, at))

    answer = DeriveAnswer(
        kind=sheet.kind,
        medium=sheet.medium,
        expands=expands(sheet),
        expected_burst=None if failing is None else failing.pressure,
        procedure="expansion" if sheet.procedure == "expansion" else rule.procedure,
        basis=basis,
        factor=factor,
        base_pressure=base,
        working_pressure=sheet.working_pressure,
        plate_pressure=sheet.plate_pressure,
        relief_set=sheet.relief_set,
        gauge_range=sheet.gauge.range if sheet.gauge else None,
        test_pressure=pressure,
        gauge_target=target,
        target_band=[target, w.band_top],
        working_temperature=working_temperature(sheet),
        bases=bases.side_by_side(sheet),
        ceiling=top,
        allowable=may_work,
        parts=[part.answer() for part in parts],
        highest_provable=_highest_provable(top, factor),
        offer=w.offer,
        stress_ratio=bases.lowest_stress_ratio(sheet, european=rule.european)
        if rule.uses_lambda and working_temperature(sheet) > COLD
        else None,
        gauge_error=kit.gauge_error(sheet.gauge),
        gauge_head=head if sheet.gauge and sheet.medium == "water" else None,
        volume=volume,
        height=shape.height(sheet),
        water=_water(sheet, volume, temperature),
        growth=_growth(sheet),
        vent=_vent(vent),
        wall=_wall(w.wear),
        openings=prepare.openings_of(sheet),
        gather=prepare.gather(sheet, w),
        best_gauge=kit.best_gauge(sheet.gauges, target),
        compliance=None if content is None else content.compliance(pressure),
        pressure_per_kelvin=None if content is None else content.pressure_per_kelvin(pressure),
        warming_to_ceiling=w.warming_to_ceiling,
        energy=stored,
        end_forces=_end_forces(sheet, pressure),
        pump=_pumping(content, pressure, stroke),
        approach_pressure=approach,
        guards=_guards(w, rule, stored),
        stages=course.stages,
        profile=course.profile,
        behind_the_line=None if steamed else course.behind_the_line,
        heating=heated,
        hold=hold.model_copy(update={"look": course.look}),
        stops=stops(sheet, w),
        cautions=cautions(sheet, w),
        lines=[],
    )
    return answer.model_copy(update={"lines": lines_of(w, answer)})


def _guards(w: PlanContext, rule: bases.Basis, stored: Energies) -> list[Guard]:
    """What ends or stops the run; an article that is to fail has none."""
    if rule.by == "burst":
        return []
    if rule.by == "steam":
        return _under_steam(w.sheet, w.pressure)
    relief = rule.by == "relief"
    return guards_of(
        w.target,
        w.band_top,
        w.top_on_gauge if w.top.known else None,
        *((None, None) if relief else _watched(w.sheet, w.volume, stored)),
        no_lift=_no_lift(w) if relief else None,
    )


def _under_steam(sheet: VesselSheet, lifts_at: float) -> list[Guard]:
    """The guards of a boiler whose valve is set to lift at a pressure, Pa."""
    makers = sheet.relief_valve.tolerance if sheet.relief_valve else None
    lifts_by = lifts_at + valve_tolerance(lifts_at, makers)
    return steam_guards(sheet.working_pressure, lifts_by, sheet.thermometer is not None)


def _no_lift(w: PlanContext) -> float:
    valve = w.sheet.relief_valve
    rating = _may_see(w.sheet, w.may_work)
    return stops_without_lift(w.sheet.relief_set, valve.tolerance if valve else None, rating, w.sheet.gauge)


def _may_see(sheet: VesselSheet, may_work: Limit) -> float:
    """The highest that a vessel may see, Pa: the least of plate and allowable pressure, else what is wanted of it."""
    known = [sheet.plate_pressure, may_work.pressure if may_work.known else None]
    return min([p for p in known if p], default=sheet.working_pressure)


def _watched(sheet: VesselSheet, volume: float | None, stored: Energies) -> tuple[float | None, float | None]:
    """Volume (m³) whose strokes can be watched, and the energy stored at the test, J."""
    return (None, None) if sheet.medium == "air" else (volume, stored.water)


def _approach(sheet: VesselSheet, pressure: float) -> float:
    """Up to where people may be near, Pa: the wanted pressure where a passed trial proved it, else a quarter of the
    test.
    """
    quarter = 0.25 * pressure
    proved = sheet.proven_before is not None and sheet.proven_before >= sheet.working_pressure
    return max(quarter, min(sheet.working_pressure, pressure)) if proved else quarter


def _end_forces(sheet: VesselSheet, pressure: float) -> list[EndForce]:
    plugs = [
        EndForce(name=f.name, force=end_force(pressure, f.sealed_diameter)) for f in sheet.fittings if f.sealed_diameter
    ]
    if sheet.shell is None:
        return plugs
    on_end = end_force(pressure, sheet.shell.inside_diameter)
    return plugs + [
        EndForce(name=f"{end.form} end {n}", force=on_end, closure=True) for n, end in enumerate(sheet.ends, 1)
    ]


def _steps(
    sheet: VesselSheet, rule: bases.Basis, target: float, head: float
) -> tuple[list[stages.StageAim], list[float]]:
    """The stages with their pauses: the person's own where there are any, else the raising style's."""
    pause = stages.DEFAULT_PAUSE if sheet.pause is None else sheet.pause
    wanted = sheet.working_pressure + head
    if sheet.stages:
        steps = stages.edited_targets(sheet.stages, target, wanted)
        own = {stage.target: stage.pause for stage in sheet.stages}
        return steps, [own.get(step.target, pause) for step in steps]
    look = KINDS[sheet.kind].look_fraction
    if sheet.raising_by is not None:
        steps = stages.stepped_targets(sheet.raising_by, target, wanted, look)
    else:
        steps = stages.stage_targets(sheet.raising or rule.raising, target, wanted, look)
    if rule.by == "tightening":
        steps = stages.gripping(steps, head)
    return steps, [pause] * len(steps)


def _water(sheet: VesselSheet, volume: float | None, temperature: float) -> Water:
    mass = None if volume is None else volume * water_density(temperature)
    empty = filling.empty_mass(sheet)
    return Water(
        mass=mass,
        empty_mass=empty,
        full_mass=None if mass is None or empty is None else mass + empty,
        inside_area=filling.inside_area(sheet),
        fill_time=None if volume is None or sheet.fill_rate is None else filling.fill_time(volume, sheet.fill_rate),
        drain_time=filling.drain_time(sheet),
    )


def _growth(sheet: VesselSheet) -> Growth | None:
    """Hoop stress P D / 2 t against that of the proven design it departs from, as a part of it."""
    if sheet.proven is None or sheet.shell is None:
        return None
    return Growth(hoop_stress=hoop_growth(sheet))


def _vent(vent: Vent | None) -> VentAnswer | None:
    if vent is None:
        return None
    turn = vent.remedy
    remedy = None if turn is None else Attitude(tilt=turn.tilt, roll=turn.roll, air=turn.air)
    return VentAnswer(name=vent.name, height=vent.height, air=vent.air, remedy=remedy)


def _wall(wear: Wear | None) -> WallAnswer | None:
    return None if wear is None else WallAnswer(**dataclasses.asdict(wear))


def _hold(w: PlanContext, rule: bases.Basis, plan: list[StageAnswer]) -> HoldAnswer:
    sheet, content, pressure, minimum = w.sheet, w.content, w.pressure, w.hold
    look = pressure / rule.look_divisor if rule.look_divisor else min(sheet.working_pressure, pressure)
    limit = detect.accepted_leak(sheet, w)
    alone = None if content is None else detect.smallest_leak(sheet, content, pressure, minimum)
    low = detect.low_holds(sheet, content, pressure, minimum, plan[0].target, w.head)
    return HoldAnswer(
        minimum=minimum,
        every=detect.reading_interval(sheet, minimum),
        look_pressure=look + w.head,
        accepted_leak=limit,
        settle=settle_time(w.volume) if rule.by == "gas-head" else None,
        needed=None if content is None else detect.hold_needed(sheet, content, pressure, limit),
        detect=[] if content is None else detect.curve(sheet, content, pressure),
        smallest_leak=alone,
        low=detect.offered(low, alone, limit) if rule.procedure in ("proof", "tightness", "gas-head") else None,
    )


def _highest_provable(top: Limit, factor: float | None) -> float | None:
    return top.pressure / factor if top.known and top.pressure is not None and factor else None


def _energies(
    sheet: VesselSheet, volume: float | None, content: Content | None, pressure: float, air_known: bool
) -> Energies:
    if volume is None or content is None:
        nothing = (
            "water",
            "trapped_air",
            "steam_at_working",
            "air_at_working",
            "air_at_test",
            "available",
            "tnt_kg",
            "stand_off",
            "stand_off_air",
        )
        return Energies(**dict.fromkeys(nothing), stand_offs=[])
    at_test = air.air_energy(volume, pressure)
    tnt = energy.tnt_equivalent(at_test)
    away, blast = energy.stand_off_under_air(at_test), energy.stand_off(tnt)
    if pressure < LOW_HEAD:
        away = blast
    return Energies(
        water=energy.water_energy(content.stiff_part(pressure), content.trapped_air, pressure),
        trapped_air=air.trapped_air_energy(content.trapped_air, pressure) if air_known else None,
        steam_at_working=steam.steam_energy(volume, sheet.working_pressure) if sheet.kind == "boiler" else None,
        air_at_working=air.air_energy(volume, sheet.working_pressure),
        air_at_test=at_test,
        available=air.available_work(volume, pressure),
        tnt_kg=tnt,
        stand_off=away if sheet.medium == "air" else blast,
        stand_off_air=away,
        stand_offs=[StandOff(effect=effect, distance=away) for effect, away in energy.stand_offs(tnt).items()],
    )


def _pumping(content: Content | AirContent | None, pressure: float, stroke: float | None) -> Pumping:
    if content is None:
        return Pumping(volume=None, strokes=None)
    pumped = content.pumped(pressure)
    return Pumping(volume=pumped, strokes=pumped / stroke if stroke else None)
