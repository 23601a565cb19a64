"""How a thin wall gives under pressure. Source: thin-shell membrane theory."""

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
