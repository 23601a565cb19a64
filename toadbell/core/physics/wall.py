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


HARDENS = 1.5
"""A flat side that bulges by its own thickness is stiffer by this: its middle is stretched as it bends; Timoshenko,
Theory of Plates and Shells, between edges that draw in and edges that do not.
"""
_ODD = range(1, 16, 2)


def plate_give(long: float, wide: float, wall: float, youngs_modulus: float, poisson: float, pressure: float) -> float:
    """By how much the volume behind a flat side grows per pascal at a pressure (Pa), m³/Pa: the geometric mean of a
    side whose edges turn freely (Navier) and one whose edges are held, a fourth of that.

    long, wide, wall  m
    Source: Timoshenko, Theory of Plates and Shells: Navier's series for the bent plate, and w + 1.5 w³/t² for one that
    bulges far.

    >>> round(plate_give(0.6, 0.6, 3e-3, 200e9, 0.3, 0.0) * 1e9, 1)  # mL/kPa: 0.00170 a⁶/D, halved
    80.3
    """
    stiffness = youngs_modulus * wall**3 / (12 * (1 - poisson**2))
    terms = [(m, n, ((m / long) ** 2 + (n / wide) ** 2) ** 2) for m in _ODD for n in _ODD]
    free = 64 * long * wide / (math.pi**8 * stiffness) * sum(1 / (m * m * n * n * k) for m, n, k in terms)
    middle = 16 / (math.pi**6 * stiffness) * sum((-1) ** ((m + n) // 2 - 1) / (m * n * k) for m, n, k in terms)
    bulge, linear = 0.0, middle / 2 * pressure
    for _ in range(60):  # w + c w³/t² = linear: the bulge by Newton
        over = bulge + HARDENS * bulge**3 / wall**2 - linear
        bulge -= over / (1 + 3 * HARDENS * bulge**2 / wall**2)
    return free / 2 / (1 + 3 * HARDENS * bulge**2 / wall**2)


def round_plate_give(across: float, wall: float, youngs_modulus: float, poisson: float, pressure: float) -> float:
    """The same of a round flat end of a diameter, m³/Pa, as a square one of its area."""
    side = across * math.sqrt(math.pi) / 2
    return plate_give(side, side, wall, youngs_modulus, poisson, pressure)
