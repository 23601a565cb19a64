"""How a thin wall gives under pressure, and where it bursts. Source: thin-shell membrane theory."""

import math

DEFAULT_EXPANSION = 12e-6
"""Linear expansion taken for a wall of unknown material, 1/K: steel's, which leaves the water the larger effect."""


def wall_give(
    form: str, inside_diameter: float, wall: float | None, youngs_modulus: float | None, poisson: float
) -> float:
    """Relative growth of the volume per pascal, ε, 1/Pa; 0 where wall or modulus is not known.

    form             "cylinder" (closed, thin) or "sphere"
    inside_diameter  m
    wall             m
    youngs_modulus   Pa
    Source: thin-shell membrane theory; R/(t E)(5/2 − 2ν) and 3R(1 − ν)/(2 t E).

    >>> round(wall_give("cylinder", 0.366, 3.2e-3, 200e9, 0.3) * 1e5, 8)  # a bar: 183 / (3.2 × 2e6) × 1.9
    5.433e-05
    """
    if not wall or not youngs_modulus:
        return 0.0
    R = inside_diameter / 2
    if form == "sphere":
        return 3 * R * (1 - poisson) / (2 * wall * youngs_modulus)
    return R / (wall * youngs_modulus) * (2.5 - 2 * poisson)


def faupel_burst(yield_strength: float, ultimate: float, inside_radius: float, outside_radius: float) -> float:
    """Burst pressure of a closed cylinder of ductile metal, Pa; strengths Pa, radii m.

    Source: Faupel, Trans. ASME 78 (1956): (2/√3) S_y (2 − S_y/S_u) ln(R_o/R_i), the mean between where a wall that does
    not harden gives way and one that hardens to its ultimate does.

    >>> round(faupel_burst(276e6, 310e6, 27e-3, 30e-3) / 1e5)  # bar of a 54 mm tube, 3 mm of aluminium 6061-T6
    373
    """
    share = yield_strength / ultimate
    return 2 / math.sqrt(3) * yield_strength * (2 - share) * math.log(outside_radius / inside_radius)


def netting_burst(strength: float, wall: float, inside_radius: float) -> float:
    """Burst pressure of a wound or laid-up cylinder whose hoop fibres carry it, Pa: S t / R_i.

    strength  of the lay-up along the hoop, Pa; wall, inside_radius  m. Source: netting analysis.

    >>> round(netting_burst(200e6, 2.4e-3, 27e-3) / 1e5)  # bar
    178
    """
    return strength * wall / inside_radius
