"""What each part can bear. S stress Pa, E joint efficiency, t wall m, R inside radius m, D inside diameter m; answers in Pa.

Sources: ASME BPVC VIII-1, paragraphs named at each form.
"""

import math

from toadbell.core.answers import PartLimit
from toadbell.core.sheets import End, Shell, VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.materials import MATERIALS

TEST_FRACTION = {"water": 0.90, "air": 0.80}
"""Part of the yield strength that the membrane stress may reach in a test."""
FLAT_END_C = 0.33
"""UG-34 attachment factor of a flat end with a welded or brazed rim."""


def cylinder_hoop(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which the hoop stress of a cylinder reaches S E, Pa. UG-27(c)(1), for t ≤ R/2."""
    return S * E * t / (R + 0.6 * t)


def cylinder_ends(S: float, E: float, t: float, R: float) -> float:
    """The same for the stress along the cylinder, Pa. UG-27(c)(2)."""
    return 2 * S * E * t / (R - 0.4 * t)


def sphere(S: float, E: float, t: float, R: float) -> float:
    """A sphere or a hemispherical end, Pa. UG-27(d)."""
    return 2 * S * E * t / (R + 0.2 * t)


def ellipsoidal_end(S: float, E: float, t: float, D: float) -> float:
    """A 2:1 ellipsoidal end, Pa. UG-32."""
    return 2 * S * E * t / (D + 0.2 * t)


def torispherical_end(S: float, E: float, t: float, crown: float, knuckle: float) -> float:
    """A torispherical end of the given inside radii (m), Pa. Mandatory Appendix 1-4."""
    M = (3 + math.sqrt(crown / knuckle)) / 4
    return 2 * S * E * t / (crown * M + 0.2 * t)


def flat_end(S: float, E: float, t: float, d: float, C: float = FLAT_END_C) -> float:
    """A flat unstayed end of diameter d (m), Pa. UG-34."""
    return S * E * (t / d) ** 2 / C


def stayed_plate(S: float, t: float, pitch: float) -> float:
    """A flat plate held by stays at the given pitch (m), Pa. UG-47: C = 2.1 up to 11 mm of plate, 2.2 above."""
    return S * (2.1 if t <= 0.011 else 2.2) * (t / pitch) ** 2


def end_force(pressure: float, sealed_diameter: float) -> float:
    """Force with which the pressure throws out a plug or closure, N.

    pressure         gauge, Pa
    sealed_diameter  diameter of the sealed area, m
    """
    return pressure * math.pi * sealed_diameter**2 / 4


def part_limits(sheet: VesselSheet) -> list[PartLimit]:
    """Each part of the pressure boundary with its allowable and its limit at test; None where not known."""
    if sheet.shell is None:
        return []
    return [*_shell_limits(sheet.shell, sheet.medium), *_end_limits(sheet.shell, sheet.ends, sheet.medium)]


def _stresses(shell: Shell, material: str, medium: str) -> tuple[float | None, float | None]:
    """Design stress and the stress allowed at test, Pa; brittle and creeping materials have none at test."""
    own = MATERIALS[material]
    design = shell.design_stress or own.design_stress
    strength = shell.yield_strength or own.yield_strength
    at_test = None if strength is None or own.brittle_or_creeping else TEST_FRACTION[medium] * strength
    return design, at_test


def _shell_limits(shell: Shell, medium: str) -> list[PartLimit]:
    design, at_test = _stresses(shell, shell.material, medium)
    wall, R = shell.thinnest, shell.inside_diameter / 2
    forms = [("shell", sphere)] if shell.form == "sphere" else [("shell hoop", cylinder_hoop), ("shell lengthwise", cylinder_ends)]
    return [
        PartLimit(
            name=name,
            allowable=_limit(form, design, shell.joint_efficiency, wall, shell.corrosion, R),
            test_limit=_limit(form, at_test, 1.0, wall, 0.0, R),
        )
        for name, form in forms
    ]


def _limit(form, S: float | None, E: float, wall: float | None, corrosion: float, *geometry: float) -> float | None:  # type: ignore[no-untyped-def]
    if S is None or wall is None:
        return None
    left = wall - corrosion
    return 0.0 if left <= 0 else form(S, E, left, *geometry)


def _end_limits(shell: Shell, ends: list[End], medium: str) -> list[PartLimit]:
    limits = []
    for number, end in enumerate(ends, 1):
        design, at_test = _stresses(shell, end.material or shell.material, medium)
        form, geometry = _end_form(end, shell.inside_diameter)
        limits.append(
            PartLimit(
                name=f"{end.form} end {number}",
                allowable=_limit(form, design, shell.joint_efficiency, end.wall, shell.corrosion, *geometry),
                test_limit=_limit(form, at_test, 1.0, end.wall, 0.0, *geometry),
            )
        )
    return limits


def _end_form(end: End, D: float):  # type: ignore[no-untyped-def]
    if end.form == "hemispherical":
        return sphere, (D / 2,)
    if end.form == "ellipsoidal":
        return ellipsoidal_end, (D,)
    if end.form == "torispherical":
        return torispherical_end, shape.torispherical_radii(end, D)
    if end.form == "stayed":
        return (lambda S, E, t, pitch: stayed_plate(S, t, pitch)), (end.pitch,)
    return flat_end, (D,)
