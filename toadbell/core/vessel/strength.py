"""What each part can bear.

S stress Pa, E joint efficiency, t wall m, R inside radius m, D inside diameter m; answers in Pa.

Sources: ASME BPVC VIII-1, paragraphs named at each form.
"""

import math

FLAT_END_C = 0.33
"""UG-34 attachment factor of a flat end with a welded or brazed rim."""


def cylinder_hoop(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which the hoop stress of a cylinder reaches S E, Pa. UG-27(c)(1), for t ≤ R/2.

    >>> round(cylinder_hoop(138e6, 0.7, 2.6e-3, 0.183) / 1e5, 2)  # bar: 1380 × 0.7 × 2.6 / (183 + 1.56)
    13.61
    """
    return S * E * t / (R + 0.6 * t)


THICK = 0.1
"""Wall over inside radius from where a cylinder is reckoned as thick."""


def thick_cylinder(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which a closed thick cylinder reaches S E at the bore, by hoop or by von Mises, Pa. Lamé.

    Hoop P (k² + 1)/(k² − 1), along P/(k² − 1), radial −P, with k = R_o/R_i; von Mises of the three is √3 P k²/(k² − 1).

    >>> round(thick_cylinder(100e6, 1.0, 5e-3, 20e-3) / 1e5, 1)  # bar: k² = 1.5625, and 1000 × 0.5625 / (√3 × 1.5625)
    207.8
    """
    k2 = ((R + t) / R) ** 2
    return S * E * min((k2 - 1) / (k2 + 1), (k2 - 1) / (math.sqrt(3) * k2))


def shell_hoop(S: float, E: float, t: float, R: float) -> float:
    """A cylinder's hoop limit, Pa: thin by UG-27(c)(1), thick (t > R/10) by Lamé."""
    return thick_cylinder(S, E, t, R) if t > THICK * R else cylinder_hoop(S, E, t, R)


def tube_collapse(Young: float, poisson: float, t: float, outside_diameter: float) -> float:
    """Outside pressure that a long thin tube bears with a factor of 3 against collapse, Pa. Bresse.

    >>> round(tube_collapse(110e9, 0.34, 1.2e-3, 12.7e-3) / 1e5)  # bar: 2 × 1.1e6 / 0.8844 × (1.2 / 12.7)³ / 3
    699
    """
    return 2 * Young / (1 - poisson**2) * (t / outside_diameter) ** 3 / 3


def tube_membrane(S: float, t: float, outside_diameter: float) -> float:
    """Outside pressure at which a tube's membrane stress reaches S, Pa.

    >>> round(tube_membrane(41e6, 1.2e-3, 12.7e-3) / 1e5, 1)  # bar: 2 × 410 × 1.2 / 12.7
    77.5
    """
    return 2 * S * t / outside_diameter


def stay(S: float, diameter: float, pitch: float) -> float:
    """Pressure at which a stay of that least diameter (m) at that pitch (m) reaches S, Pa. UG-50.

    >>> round(stay(41e6, 6e-3, 40e-3) / 1e5, 2)  # bar: 410 × 28.27 / (1600 − 28.27)
    7.38
    """
    area = math.pi * diameter**2 / 4
    return S * area / (pitch**2 - area)


def cylinder_ends(S: float, E: float, t: float, R: float) -> float:
    """The same for the stress along the cylinder, Pa. UG-27(c)(2).

    >>> round(cylinder_ends(138e6, 0.7, 2.6e-3, 0.183) / 1e5, 1)  # bar: 2 × 1380 × 0.7 × 2.6 / (183 − 1.04)
    27.6
    """
    return 2 * S * E * t / (R - 0.4 * t)


def sphere(S: float, E: float, t: float, R: float) -> float:
    """A sphere or a hemispherical end, Pa. UG-27(d).

    >>> round(sphere(138e6, 0.85, 3e-3, 0.2) / 1e5, 1)  # bar: 2 × 1380 × 0.85 × 3 / (200 + 0.6)
    35.1
    """
    return 2 * S * E * t / (R + 0.2 * t)


THICK_SPHERE = 0.356
"""Wall over inside radius up to which UG-27(d) holds."""


def thick_sphere(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which the hoop stress at the bore of a thick sphere reaches S E, Pa. Lamé, for t > 0.356 R.

    Hoop P (k³ + 2)/(2 (k³ − 1)), with k = R_o/R_i.

    >>> round(thick_sphere(100e6, 1.0, 10e-3, 20e-3) / 1e5, 1)  # bar: k³ = 3.375, and 2 × 1000 × 2.375 / 5.375
    883.7
    """
    k3 = ((R + t) / R) ** 3
    return 2 * S * E * (k3 - 1) / (k3 + 2)


def spherical(S: float, E: float, t: float, R: float) -> float:
    """A sphere's limit, Pa: by UG-27(d) as far as it holds, then by Lamé."""
    return thick_sphere(S, E, t, R) if t > THICK_SPHERE * R else sphere(S, E, t, R)


def ellipsoidal_end(S: float, E: float, t: float, D: float) -> float:
    """A 2:1 ellipsoidal end, Pa. UG-32.

    >>> round(ellipsoidal_end(138e6, 0.85, 3.5e-3, 0.366) / 1e5, 1)  # bar: 2 × 1380 × 0.85 × 3.5 / (366 + 0.7)
    22.4
    """
    return 2 * S * E * t / (D + 0.2 * t)


def torispherical_end(S: float, E: float, t: float, crown: float, knuckle: float) -> float:
    """A torispherical end of the given inside radii (m), Pa. Mandatory Appendix 1-4.

    By hand, in bar: M = (3 + √10) / 4 = 1.541; 2 × 1380 × 0.85 × 3 / (366 × 1.541 + 0.6).

    >>> round(torispherical_end(138e6, 0.85, 3e-3, 0.366, 0.0366) / 1e5, 1)
    12.5
    """
    M = (3 + math.sqrt(crown / knuckle)) / 4
    return 2 * S * E * t / (crown * M + 0.2 * t)


def flat_end(S: float, E: float, t: float, d: float, C: float = FLAT_END_C) -> float:
    """A flat unstayed end of diameter d (m), Pa. UG-34.

    >>> round(flat_end(138e6, 0.85, 10e-3, 0.2) / 1e5, 2)  # bar: 1380 × 0.85 × 0.05² / 0.33
    8.89
    """
    return S * E * (t / d) ** 2 / C


STAYED_PLATE = 0.011
"""Thickness of a stayed plate up to which UG-47 counts C = 2.1, m."""


def stayed_plate(S: float, t: float, pitch: float) -> float:
    """A flat plate held by stays at the given pitch (m), Pa. UG-47: C = 2.1 up to 11 mm of plate, 2.2 above.

    >>> round(stayed_plate(41e6, 3.25e-3, 40e-3) / 1e5, 2)  # bar: 410 × 2.1 × (3.25 / 40)²
    5.68
    """
    return S * (2.1 if t <= STAYED_PLATE else 2.2) * (t / pitch) ** 2


KNUCKLE_BUCKLES = 0.002
"""Wall over crown radius below which a torispherical end's knuckle buckles before it yields (VIII-1, Appendix 1-4(f)).
"""


def knuckle_buckling(S: float, E: float, t: float, crown: float, knuckle: float, D: float) -> float:
    """Pressure at which the knuckle of a thin torispherical end buckles, Pa.

    EN 13445-3 §7.5.3.5; the joint does not matter.

    111 S (t/(0.75 L + 0.2 D))^1.5 (r/D)^0.825

    By hand, in bar: 111 × 1380 × (0.7 / 380)^1.5 × 0.1^0.825.

    >>> round(knuckle_buckling(138e6, 1.0, 0.7e-3, 0.4, 0.04, 0.4) / 1e5, 2)
    1.81
    """
    return float(111 * S * (t / (0.75 * crown + 0.2 * D)) ** 1.5 * (knuckle / D) ** 0.825)


def thin_torispherical(S: float, E: float, t: float, crown: float, knuckle: float, D: float) -> float:
    """A thin torispherical end, Pa: the lower of its strength and its knuckle's buckling."""
    return min(torispherical_end(S, E, t, crown, knuckle), knuckle_buckling(S, E, t, crown, knuckle, D))


def flat_side(S: float, E: float, t: float, short: float, long: float, C: float = FLAT_END_C) -> float:
    """A flat rectangular side held all round, Pa. UG-34(c)(3): S E (t/d)²/(Z C), Z = 3.4 − 2.4 d/D, at most 2.5.

    >>> round(flat_side(138e6, 1.0, 3e-3, 0.2, 0.3) / 1e5, 3)  # bar: Z = 3.4 − 1.6 = 1.8; 1380 × 0.015² / (0.33 × 1.8)
    0.523
    """
    return S * E * (t / short) ** 2 / (C * min(2.5, 3.4 - 2.4 * short / long))


_COLLAPSE = (
    (0.0, 0.0),
    (0.25, 0.1245),
    (0.5, 0.2505),
    (0.75, 0.375),
    (1.0, 0.4805),
    (1.25, 0.5345),
    (1.5, 0.5715),
    (1.75, 0.6055),
    (2.0, 0.6365),
    (2.5, 0.691),
    (3.0, 0.733),
    (3.5, 0.7655),
    (4.0, 0.7925),
    (5.0, 0.835),
    (6.0, 0.863),
    (7.0, 0.8835),
)
"""Real collapse over yield pressure by elastic collapse over yield pressure (EN 13445-3 §8.5.2, the curve for
cylinders).
"""
OUTSIDE_FACTOR = 1.5
"""Margin on a tube's collapse by outside pressure (EN 13445-3 §8.4.4)."""


def tube_outside(S: float, E: float, t: float, outside_diameter: float, Young: float, poisson: float) -> float:
    """Outside pressure that a tube or flue bears, Pa: collapse between elastic and plastic, and never over a third of
    the elastic.

    S  stress that the wall may reach, Pa: collapse is reckoned with a yield of S × 1.5, and divided by 1.5 again; no
       seam (E) matters
    Source: EN 13445-3 §8.5.2 on a long tube (Bresse); the factor of 3 on elastic collapse as before.

    By hand, in bar: it would buckle at 18 times its yield, so 0.8835 of the membrane's 77.5.

    >>> round(tube_outside(41e6, 1.0, 1.2e-3, 12.7e-3, 110e9, 0.34) / 1e5, 1)
    68.5
    """
    elastic = 3 * tube_collapse(Young, poisson, t, outside_diameter)
    yielding = OUTSIDE_FACTOR * tube_membrane(S, t, outside_diameter)
    part = elastic / yielding
    over = next((i for i, (x, _) in enumerate(_COLLAPSE) if x >= part), None)
    if over is None:
        share = _COLLAPSE[-1][1]
    elif over == 0:
        share = 0.0
    else:
        (x0, y0), (x1, y1) = _COLLAPSE[over - 1], _COLLAPSE[over]
        share = y0 + (y1 - y0) * (part - x0) / (x1 - x0)
    return min(elastic / 3, share * yielding / OUTSIDE_FACTOR)


def end_force(pressure: float, sealed_diameter: float) -> float:
    """Force with which the pressure throws out a plug or closure, N.

    pressure         gauge, Pa
    sealed_diameter  diameter of the sealed area, m

    >>> round(end_force(12.75e5, 33.5e-3))  # N: 1.275 MPa on 881.4 mm²
    1124
    """
    return pressure * math.pi * sealed_diameter**2 / 4
