"""What each part can bear. S stress Pa, E joint efficiency, t wall m, R inside radius m, D inside diameter m; answers in Pa.

Sources: ASME BPVC VIII-1, paragraphs named at each form.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from toadbell.core.answers import PartLimit
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.materials import Material, figures_of
from toadbell.core.vessel_sheet import End, Shell, Tubes

TEST_FRACTION = {"water": 0.90, "air": 0.80}
"""Part of the yield strength that the membrane stress may reach in a test."""
FLAT_END_C = 0.33
"""UG-34 attachment factor of a flat end with a welded or brazed rim."""


def cylinder_hoop(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which the hoop stress of a cylinder reaches S E, Pa. UG-27(c)(1), for t ≤ R/2."""
    return S * E * t / (R + 0.6 * t)


THICK = 0.1
"""Wall over inside radius from where a cylinder is reckoned as thick."""


def thick_cylinder(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which a closed thick cylinder reaches S E at the bore, by hoop or by von Mises, Pa. Lamé.

    Hoop P (k² + 1)/(k² − 1), along P/(k² − 1), radial −P, with k = R_o/R_i; von Mises of the three is √3 P k²/(k² − 1).
    """
    k2 = ((R + t) / R) ** 2
    return S * E * min((k2 - 1) / (k2 + 1), (k2 - 1) / (math.sqrt(3) * k2))


def shell_hoop(S: float, E: float, t: float, R: float) -> float:
    """A cylinder's hoop limit, Pa: thin by UG-27(c)(1), thick (t > R/10) by Lamé."""
    return thick_cylinder(S, E, t, R) if t > THICK * R else cylinder_hoop(S, E, t, R)


def tube_collapse(Young: float, poisson: float, t: float, outside_diameter: float) -> float:
    """Outside pressure that a long thin tube bears with a factor of 3 against collapse, Pa. Bresse."""
    return 2 * Young / (1 - poisson**2) * (t / outside_diameter) ** 3 / 3


def tube_membrane(S: float, t: float, outside_diameter: float) -> float:
    """Outside pressure at which a tube's membrane stress reaches S, Pa."""
    return 2 * S * t / outside_diameter


def stay(S: float, diameter: float, pitch: float) -> float:
    """Pressure at which a stay of that least diameter (m) at that pitch (m) reaches S, Pa. UG-50."""
    area = math.pi * diameter**2 / 4
    return S * area / (pitch**2 - area)


def cylinder_ends(S: float, E: float, t: float, R: float) -> float:
    """The same for the stress along the cylinder, Pa. UG-27(c)(2)."""
    return 2 * S * E * t / (R - 0.4 * t)


def sphere(S: float, E: float, t: float, R: float) -> float:
    """A sphere or a hemispherical end, Pa. UG-27(d)."""
    return 2 * S * E * t / (R + 0.2 * t)


THICK_SPHERE = 0.356
"""Wall over inside radius up to which UG-27(d) holds."""


def thick_sphere(S: float, E: float, t: float, R: float) -> float:
    """Pressure at which the hoop stress at the bore of a thick sphere reaches S E, Pa. Lamé, for t > 0.356 R.

    Hoop P (k³ + 2)/(2 (k³ − 1)), with k = R_o/R_i.
    """
    k3 = ((R + t) / R) ** 3
    return 2 * S * E * (k3 - 1) / (k3 + 2)


def spherical(S: float, E: float, t: float, R: float) -> float:
    """A sphere's limit, Pa: by UG-27(d) as far as it holds, then by Lamé."""
    return thick_sphere(S, E, t, R) if t > THICK_SPHERE * R else sphere(S, E, t, R)


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


STAYED_PLATE = 0.011
"""Thickness of a stayed plate up to which UG-47 counts C = 2.1, m."""


def stayed_plate(S: float, t: float, pitch: float) -> float:
    """A flat plate held by stays at the given pitch (m), Pa. UG-47: C = 2.1 up to 11 mm of plate, 2.2 above."""
    return S * (2.1 if t <= STAYED_PLATE else 2.2) * (t / pitch) ** 2


def end_force(pressure: float, sealed_diameter: float) -> float:
    """Force with which the pressure throws out a plug or closure, N.

    pressure         gauge, Pa
    sealed_diameter  diameter of the sealed area, m
    """
    return pressure * math.pi * sealed_diameter**2 / 4


def hoop_growth(sheet: VesselSheet) -> float | None:
    """Hoop stress P D / 2 t against that of the proven design the vessel departs from, less one; None where not known."""
    wall = sheet.shell.thinnest if sheet.shell else None
    if sheet.proven is None or sheet.shell is None or wall is None:
        return None
    was = sheet.proven.pressure * sheet.proven.inside_diameter / sheet.proven.wall
    return sheet.working_pressure * sheet.shell.inside_diameter / wall / was - 1


@dataclass(frozen=True)
class Form:
    """A published form: its function of (S, E, t, …), how it is written, and where it is printed."""

    bears: Callable[..., float]
    written: str
    source: str


@dataclass(frozen=True)
class Part:
    """A part of the pressure boundary. `inputs` are (symbol, SI value, kind of quantity), in service and at test.

    allowable, test_limit  Pa; None where something is not known
    """

    name: str
    form: Form
    allowable: float | None
    test_limit: float | None
    in_service: tuple[tuple[str, float, str], ...] = ()
    at_test: tuple[tuple[str, float, str], ...] = ()

    def answer(self) -> PartLimit:
        """The part as the answer tells it."""
        return PartLimit(name=self.name, allowable=self.allowable, test_limit=self.test_limit)


_UG27 = "ASME BPVC VIII-1, UG-27"
THIN_HOOP = Form(cylinder_hoop, "S E t / (R + 0.6 t)", f"{_UG27}(c)(1)")
THICK_HOOP = Form(thick_cylinder, "S E min((k² − 1)/(k² + 1), (k² − 1)/(√3 k²)), k = (R + t)/R", "Lamé, hoop and von Mises at the bore")
LENGTHWISE = Form(cylinder_ends, "2 S E t / (R − 0.4 t)", f"{_UG27}(c)(2)")
THICK_SPHERICAL = Form(thick_sphere, "2 S E (k³ − 1)/(k³ + 2), k = (R + t)/R", "Lamé, hoop at the bore")
SPHERE = Form(sphere, "2 S E t / (R + 0.2 t)", f"{_UG27}(d)")
ELLIPSOIDAL = Form(ellipsoidal_end, "2 S E t / (D + 0.2 t)", "ASME BPVC VIII-1, UG-32")
TORISPHERICAL = Form(torispherical_end, "2 S E t / (L M + 0.2 t), M = ¼ (3 + √(L/r))", "ASME BPVC VIII-1, Appendix 1-4")
FLAT = Form(flat_end, "S E (t/d)² / C", "ASME BPVC VIII-1, UG-34")
STAYED_THIN = Form(lambda S, E, t, p: stayed_plate(S, t, p), "2.1 S (t/p)²", "ASME BPVC VIII-1, UG-47, plate to 11 mm")
STAYED_THICK = Form(lambda S, E, t, p: stayed_plate(S, t, p), "2.2 S (t/p)²", "ASME BPVC VIII-1, UG-47, plate over 11 mm")
STAY = Form(lambda S, E, d, p: stay(S, d, p), "S A / (p² − A), A = π d²/4", "ASME BPVC VIII-1, UG-50")
TUBE = Form(
    lambda S, E, t, D, Young, poisson: min(tube_collapse(Young, poisson, t, D), tube_membrane(S, t, D)),
    "min(2 E_y/(1 − ν²) (t/D_o)³ / 3, 2 S t/D_o)",
    "Bresse with a factor of 3; membrane",
)


def parts_of(sheet: VesselSheet) -> list[Part]:
    """Each part of the pressure boundary with its allowable and its limit at test."""
    if sheet.shell is None:
        return []
    shell, medium = sheet.shell, sheet.medium
    found = _shell_parts(shell, medium)
    for number, end in enumerate(sheet.ends, 1):
        found += _end_parts(shell, end, number, medium)
    for number, tube in enumerate(sheet.tubes, 1):
        found.append(_tube_part(shell, tube, number, medium))
    return found


def _figures(shell: Shell, part: End | Tubes) -> Material:
    """Figures of an end or of tubes: its own, then the shell's where it is of the same material, then the table's."""
    material = part.material or shell.material
    return figures_of(material, part, shell) if material == shell.material else figures_of(material, part)


def _stresses(material: Material, medium: str) -> tuple[float | None, float | None]:
    """Design stress and the stress allowed at test, Pa; brittle and creeping materials have none at test."""
    strength = None if material.brittle_or_creeping else material.yield_strength
    return material.design_stress, None if strength is None else TEST_FRACTION[medium] * strength


_Size = tuple[str, float, str]


def _part(
    name: str, form: Form, stresses: tuple[float | None, float | None], E: float, wall: float | None, corrosion: float,
    *sizes: _Size, wall_symbol: str = "t",
) -> Part:  # fmt: skip
    """A part by its form: in service with S, E and the wall less corrosion, at test with 0.9 yield, E = 1 and the wall as it is."""

    def bears(S: float | None, joint: float, left: float | None) -> tuple[float | None, tuple[_Size, ...]]:
        if S is None or left is None:
            return None, ()
        inputs = (("S", S, "stress"), ("E", joint, ""), (wall_symbol, left, "length"), *sizes)
        return (0.0 if left <= 0 else form.bears(S, joint, left, *(size for _, size, _ in sizes))), inputs

    allowable, in_service = bears(stresses[0], E, None if wall is None else wall - corrosion)
    test_limit, at_test = bears(stresses[1], 1.0, wall)
    return Part(name, form, allowable, test_limit, in_service, at_test)


def _shell_parts(shell: Shell, medium: str) -> list[Part]:
    wall, R = shell.thinnest, shell.inside_diameter / 2
    forms = {"shell hoop": THICK_HOOP if wall is not None and wall > THICK * R else THIN_HOOP, "shell lengthwise": LENGTHWISE}
    if shell.form == "sphere":
        forms = {"shell": _spherical(wall, R)}
    stresses = _stresses(figures_of(shell.material, shell), medium)
    return [_part(name, form, stresses, shell.joint_efficiency, wall, shell.corrosion, ("R", R, "length")) for name, form in forms.items()]


def _spherical(wall: float | None, R: float) -> Form:
    return THICK_SPHERICAL if wall is not None and wall > THICK_SPHERE * R else SPHERE


def _end_parts(shell: Shell, end: End, number: int, medium: str) -> list[Part]:
    D, stresses = shell.inside_diameter, _stresses(_figures(shell, end), medium)
    crown, knuckle = shape.torispherical_radii(end, D)
    form, sizes = {
        "hemispherical": (_spherical(end.thinnest, D / 2), (("R", D / 2, "length"),)),
        "ellipsoidal": (ELLIPSOIDAL, (("D", D, "length"),)),
        "torispherical": (TORISPHERICAL, (("L", crown, "length"), ("r", knuckle, "length"))),
        "flat": (FLAT, (("d", D, "length"), ("C", end.attachment, ""))),
        "stayed": (STAYED_THICK if end.thinnest and end.thinnest > STAYED_PLATE else STAYED_THIN, (("p", end.pitch or D, "length"),)),
    }[end.form]
    found = [_part(f"{end.form} end {number}", form, stresses, shell.joint_efficiency, end.thinnest, shell.corrosion, *sizes)]
    if end.form == "stayed" and end.stay_diameter and end.pitch:
        pitch = ("p", end.pitch, "length")
        found.append(_part(f"stays of end {number}", STAY, stresses, 1.0, end.stay_diameter, 0.0, pitch, wall_symbol="d"))
    return found


def _tube_part(shell: Shell, tube: Tubes, number: int, medium: str) -> Part:
    """Collapse counts alike in service and at test; it has its factor of 3 in both."""
    name = f"{'tubes' if tube.count > 1 else 'flue'} {number}, from outside"
    material = _figures(shell, tube)
    if material.youngs_modulus is None:
        return Part(name, TUBE, None, None)
    sizes = (("D_o", tube.outside_diameter, "length"), ("E_y", material.youngs_modulus, "stress"), ("ν", material.poisson, ""))
    return _part(name, TUBE, _stresses(material, medium), 1.0, tube.wall, 0.0, *sizes)
