"""The lines of what is stored: in air, water and steam, and how far to stand from it."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import LOW_HEAD, Said, amount, joined, put, say
from toadbell.core.plan import energy
from toadbell.core.plan.context import PlanContext

PCC2 = "ASME PCC-2, Article 501"
IAPWS = "IAPWS-95 through CoolProp"
AIR_ENERGY = "P_abs V/(k − 1) · [1 − (P_atm/P_abs)^((k−1)/k)]"


UNDER_AIR = "max(R_least, 20 (2 · TNT)^(1/3))"


def joules(value: float | None) -> Said:
    """An energy (J) as a person reads it."""
    return put("") if value is None else put("{x:energy 4}", x=value)


def _least_distance(w: PlanContext, stored: float) -> float:
    """The code's least distance for a test under air, m; none at a low head."""
    return 0.0 if w.pressure < LOW_HEAD else energy.least_distance(stored)


def energy_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """A line for each energy and each distance that is known."""
    e = a.energy
    if w.wet is None or e.air_at_test is None or e.tnt_kg is None:
        return []
    litres, trapped = amount(w.wet.volume, "volume", "L"), amount(w.wet.trapped_air, "volume", "mL")
    stiff = amount(w.wet.stiff_part(w.pressure), "compliance", "mL/bar")
    least = f"R_least = {_least_distance(w, e.air_at_test):g} m, "
    tnt = put("TNT = {x:number 4} kg", x=e.tnt_kg)
    scaled = {s.effect: energy.EFFECTS[s.effect] for s in e.stand_offs}
    further = joined(PCC2, "; fragments go further")
    return [
        *line_of(
            "energy.air_at_test",
            "E_air",
            AIR_ENERGY,
            joined(w.absolute(w.pressure), ", V = ", litres, ", k = 1.4"),
            e.air_at_test,
            "J",
            joules(e.air_at_test),
            PCC2,
        ),
        *line_of(
            "energy.air_at_working",
            "E_work",
            AIR_ENERGY,
            joined(w.absolute(a.working_pressure), ", V = ", litres, ", k = 1.4"),
            e.air_at_working,
            "J",
            joules(e.air_at_working),
            PCC2,
        ),
        *line_of(
            "energy.water",
            "E_water",
            "½ C P² + E_trapped",
            joined("C = ", stiff, ", P = ", w.show(w.pressure), ", E_trapped = ", joules(e.trapped_air or 0.0)),
            e.water,
            "J",
            joules(e.water),
            joined("elastic work of water and wall; ", PCC2, " for the air"),
        ),
        *line_of(
            "energy.trapped_air",
            "E_trapped",
            AIR_ENERGY,
            joined(w.absolute(w.pressure), ", V = V_a P_atm/P_abs, V_a = ", trapped, ", k = 1.4"),
            e.trapped_air,
            "J",
            joules(e.trapped_air),
            PCC2,
        ),
        *line_of(
            "energy.available",
            "E_low",
            "E_air − P_atm V ((P_abs/P_atm)^(1/k) − 1)",
            joined("E_air = ", joules(e.air_at_test), ", ", w.absolute(w.pressure), ", V = ", litres, ", k = 1.4"),
            e.available,
            "J",
            joules(e.available),
            "what the atmosphere leaves of it: exergy of the air",
        ),
        *line_of(
            "energy.tnt_kg",
            "m_TNT",
            "E / h_TNT",
            joined("E = ", joules(e.air_at_test), ", h_TNT = 4.27 MJ/kg"),
            e.tnt_kg,
            "kg",
            put("{x:number 3} g", x=e.tnt_kg * 1000),
            PCC2,
        ),
        *line_of(
            "energy.stand_off",
            "R",
            "20 (2 · TNT)^(1/3)" if w.sheet.medium != "air" else UNDER_AIR,
            tnt if w.sheet.medium != "air" else joined(least, tnt),
            e.stand_off,
            "m",
            put("{x:distance}", x=e.stand_off or 0.0),
            joined("no harm from the blast: ", further),
        ),
        *line_of(
            "energy.stand_off_air",
            "R_air",
            UNDER_AIR,
            joined(least, tnt),
            e.stand_off_air,
            "m",
            put("{x:distance}", x=e.stand_off_air or 0.0),
            joined("a test under air, by the code's least distance too: ", further),
        ),
        *(
            line
            for s in e.stand_offs
            for line in line_of(
                f"energy.stand_offs.{s.effect}",
                "R",
                f"{scaled[s.effect]:g} (2 · TNT)^(1/3)",
                tnt,
                s.distance,
                "m",
                put("{x:distance}", x=s.distance),
                further,
            )
        ),
        *line_of(
            "energy.steam_at_working",
            "E_steam",
            "ρ V (u_1 − u_2) at the same entropy",
            joined("saturated at ", w.show(a.working_pressure), ", V = ", litres),
            e.steam_at_working,
            "J",
            joules(e.steam_at_working),
            IAPWS,
        ),
        *_heating_lines(w, a),
    ]


def _heating_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """How long a boiler takes to come up on its fire."""
    if a.heating is None:
        return []
    h = a.heating
    metal = say("plan.metal-takes", metal=h.metal) if h.metal is not None else say("plan.metal-unknown")
    numbers = say("plan.heating", water=h.water, metal=metal, power=h.power, working=a.working_pressure)
    formula, shown = "(ΔU_water + C_metal ΔT) / burner", amount(h.soonest, "time")
    return line_of(
        "heating.soonest", "t_up", formula, numbers, h.soonest, "s", shown, "IAPWS-95; nothing lost to the room"
    )
