"""The parts of a vessel with what each may work at and bear in a test. Pressures Pa, lengths m, temperatures K."""

from collections.abc import Callable
from dataclasses import dataclass

from toadbell.core.answers import PartLimit
from toadbell.core.physics.materials import Material, figures_of, weakening
from toadbell.core.physics.steam import saturation
from toadbell.core.physics.water import ROOM
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Box, End, Shell, Tubes
from toadbell.core.vessel import shape
from toadbell.core.vessel.strength import (
    FLAT_END_C,
    KNUCKLE_BUCKLES,
    STAYED_PLATE,
    THICK,
    THICK_SPHERE,
    cylinder_ends,
    cylinder_hoop,
    ellipsoidal_end,
    flat_end,
    flat_side,
    sphere,
    stay,
    stayed_plate,
    thick_cylinder,
    thick_sphere,
    thin_torispherical,
    torispherical_end,
    tube_outside,
)

TEST_FRACTION = {"water": 0.90, "air": 0.80}
"""Part of the yield strength that the membrane stress may reach in a test."""


def hoop_growth(sheet: VesselSheet) -> float | None:
    """Hoop stress P D / 2 t against that of the proven design the vessel departs from, less one; None where not
    known.
    """
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
THICK_HOOP = Form(
    thick_cylinder,
    "S E min((k² − 1)/(k² + 1), (k² − 1)/(√3 k²)), k = (R + t)/R",
    "Lamé, hoop and von Mises at the bore",
)
LENGTHWISE = Form(cylinder_ends, "2 S E t / (R − 0.4 t)", f"{_UG27}(c)(2)")
THICK_SPHERICAL = Form(thick_sphere, "2 S E (k³ − 1)/(k³ + 2), k = (R + t)/R", "Lamé, hoop at the bore")
SPHERE = Form(sphere, "2 S E t / (R + 0.2 t)", f"{_UG27}(d)")
ELLIPSOIDAL = Form(ellipsoidal_end, "2 S E t / (D + 0.2 t)", "ASME BPVC VIII-1, UG-32")
TORISPHERICAL = Form(torispherical_end, "2 S E t / (L M + 0.2 t), M = ¼ (3 + √(L/r))", "ASME BPVC VIII-1, Appendix 1-4")
FLAT = Form(flat_end, "S E (t/d)² / C", "ASME BPVC VIII-1, UG-34")
STAYED_THIN = Form(lambda S, E, t, p: stayed_plate(S, t, p), "2.1 S (t/p)²", "ASME BPVC VIII-1, UG-47, plate to 11 mm")
STAYED_THICK = Form(
    lambda S, E, t, p: stayed_plate(S, t, p), "2.2 S (t/p)²", "ASME BPVC VIII-1, UG-47, plate over 11 mm"
)
STAY = Form(lambda S, E, d, p: stay(S, d, p), "S A / (p² − A), A = π d²/4", "ASME BPVC VIII-1, UG-50")
TUBE = Form(
    tube_outside,
    "min(P_e / 3, P_y f(P_e / P_y) / 1.5), P_e = 2 E_y/(1 − ν²) (t/D_o)³, P_y = 1.5 · 2 S t/D_o",
    "EN 13445-3 §8.5.2, f its curve for cylinders; Bresse",
)
THIN_TORISPHERICAL = Form(
    thin_torispherical,
    "min(2 S E t / (L M + 0.2 t), 111 S (t/(0.75 L + 0.2 D))^1.5 (r/D)^0.825), M = ¼ (3 + √(L/r))",
    "ASME BPVC VIII-1, Appendix 1-4; EN 13445-3 §7.5.3 for the knuckle of a thin end",
)
FLAT_SIDE = Form(
    flat_side, "S E (t/d)² / (Z C), Z = min(2.5, 3.4 − 2.4 d/D), C = 0.33", "ASME BPVC VIII-1, UG-34(c)(3)"
)


def parts_of(sheet: VesselSheet) -> list[Part]:
    """Each part of the pressure boundary with its allowable and its limit at test."""
    if sheet.box is not None:
        return _box_parts(sheet.box, sheet.medium, working_temperature(sheet))
    if sheet.shell is None:
        return []
    shell, at = sheet.shell, At(sheet.medium, working_temperature(sheet))
    found = _shell_parts(shell, at)
    for number, end in enumerate(sheet.ends, 1):
        found += _end_parts(shell, end, number, at)
    if shell.form == "cylinder" and len(sheet.ends) == 1:
        found.append(Part("end 2", FLAT, None, None))
    for number, tube in enumerate(sheet.tubes, 1):
        found.append(_tube_part(shell, tube, number, at))
    return found


@dataclass(frozen=True)
class At:
    """Under what medium a vessel is tested, and how warm its metal is at work, K."""

    medium: str
    working: float


def working_temperature(sheet: VesselSheet) -> float:
    """How warm the metal is at work, K: as stated, at least room temperature; of a boiler at least that of its steam.

    Source: saturation by IAPWS-95 through CoolProp.
    """
    stated = sheet.design_temperature or ROOM
    return max(stated, saturation(sheet.working_pressure)) if sheet.kind == "boiler" else max(stated, ROOM)


def _figures(shell: Shell, part: End | Tubes) -> Material:
    """Figures of an end or of tubes: its own, then the shell's where it is of the same material, then the table's."""
    material = part.material or shell.material
    return figures_of(material, part, shell) if material == shell.material else figures_of(material, part)


def _stresses(material: Material, name: str, at: At) -> tuple[float | None, float | None]:
    """Design stress at work, warm as it is there, and the stress allowed at test, Pa; None where not known.

    Brittle and creeping materials have none at test. name: of the material in the tables
    """
    strength = None if material.brittle_or_creeping else material.yield_strength
    weaker = weakening(name, at.working)
    design = None if material.design_stress is None or weaker is None else material.design_stress * weaker
    return design, None if strength is None else TEST_FRACTION[at.medium] * strength


_Size = tuple[str, float, str]


def _part(
    name: str,
    form: Form,
    stresses: tuple[float | None, float | None],
    E: float,
    wall: float | None,
    corrosion: float,
    *sizes: _Size,
    wall_symbol: str = "t",
) -> Part:
    """A part by its form: in service with S, E and the wall less corrosion, at test with 0.9 yield, E = 1 and the wall
    as it is.
    """

    def bears(S: float | None, joint: float, left: float | None) -> tuple[float | None, tuple[_Size, ...]]:
        if S is None or left is None:
            return None, ()
        inputs = (("S", S, "stress"), ("E", joint, ""), (wall_symbol, left, "length"), *sizes)
        return (0.0 if left <= 0 else form.bears(S, joint, left, *(size for _, size, _ in sizes))), inputs

    allowable, in_service = bears(stresses[0], E, None if wall is None else wall - corrosion)
    test_limit, at_test = bears(stresses[1], 1.0, wall)
    return Part(name, form, allowable, test_limit, in_service, at_test)


def _shell_parts(shell: Shell, at: At) -> list[Part]:
    wall, R = shell.thinnest, shell.inside_diameter / 2
    forms = {
        "shell hoop": THICK_HOOP if wall is not None and wall > THICK * R else THIN_HOOP,
        "shell lengthwise": LENGTHWISE,
    }
    if shell.form == "sphere":
        forms = {"shell": _spherical(wall, R)}
    stresses = _stresses(figures_of(shell.material, shell), shell.material, at)
    return [
        _part(name, form, stresses, shell.joint_efficiency, wall, shell.corrosion, ("R", R, "length"))
        for name, form in forms.items()
    ]


def _spherical(wall: float | None, R: float) -> Form:
    return THICK_SPHERICAL if wall is not None and wall > THICK_SPHERE * R else SPHERE


def _end_parts(shell: Shell, end: End, number: int, at: At) -> list[Part]:
    D, stresses = shell.inside_diameter, _stresses(_figures(shell, end), end.material or shell.material, at)
    crown, knuckle = shape.torispherical_radii(end, D)
    form, sizes = {
        "hemispherical": (_spherical(end.thinnest, D / 2), (("R", D / 2, "length"),)),
        "ellipsoidal": (ELLIPSOIDAL, (("D", D, "length"),)),
        "torispherical": _torispherical(end.thinnest, crown, knuckle, D),
        "flat": (FLAT, (("d", D, "length"), ("C", end.attachment, ""))),
        "stayed": (
            STAYED_THICK if end.thinnest and end.thinnest > STAYED_PLATE else STAYED_THIN,
            (("p", end.pitch or D, "length"),),
        ),
    }[end.form]
    found = [
        _part(f"{end.form} end {number}", form, stresses, shell.joint_efficiency, end.thinnest, shell.corrosion, *sizes)
    ]
    if end.form == "stayed" and end.stay_diameter and end.pitch:
        pitch = ("p", end.pitch, "length")
        found.append(
            _part(f"stays of end {number}", STAY, stresses, 1.0, end.stay_diameter, 0.0, pitch, wall_symbol="d")
        )
    return found


def _torispherical(wall: float | None, crown: float, knuckle: float, D: float) -> tuple[Form, tuple[_Size, ...]]:
    sizes: tuple[_Size, ...] = (("L", crown, "length"), ("r", knuckle, "length"))
    thin = wall is not None and wall < KNUCKLE_BUCKLES * crown
    return (THIN_TORISPHERICAL, (*sizes, ("D", D, "length"))) if thin else (TORISPHERICAL, sizes)


def _box_parts(box: Box, medium: str, working: float) -> list[Part]:
    """The flat sides of a low tank, or the side and the flat ends of a drum. Nothing else holds them: they bend."""
    if box.material is None:
        stresses: tuple[float | None, float | None] = (None, None)
    else:
        stresses = _stresses(figures_of(box.material), box.material, At(medium, working))
    E = WELDED_SEAM
    if box.diameter is not None:
        ends: tuple[_Size, ...] = (("d", box.diameter, "length"), ("C", FLAT_END_C, ""))
        return [
            _part("drum side", THIN_HOOP, stresses, E, box.wall, 0.0, ("R", box.diameter / 2, "length")),
            _part("flat ends", FLAT, stresses, E, box.wall, 0.0, *ends),
        ]
    long, wide = box.length or 0.0, box.width or 0.0
    faces = {"floor and lid": (long, wide), "long sides": (long, box.height), "short sides": (wide, box.height)}
    return [
        _part(name, FLAT_SIDE, stresses, E, box.wall, 0.0, ("d", min(size), "length"), ("D", max(size), "length"))
        for name, size in faces.items()
    ]


THIN_SHEET, THIN_OF = 0.8e-3, "carbon-steel"
"""What flat sides of which nobody knows the wall are taken for, m: the sheet that small tanks are folded of."""


def sides_bear(box: Box, medium: str, working: float) -> float | None:
    """What the flat sides of a box bear in a test, Pa: by their wall, else as thin sheet; None of a drum."""
    if box.diameter is not None:
        return None
    known = box.wall is not None and box.material is not None
    taken = box if known else box.model_copy(update={"wall": THIN_SHEET, "material": THIN_OF})
    return min((part.test_limit for part in _box_parts(taken, medium, working) if part.test_limit), default=None)


WELDED_SEAM = 0.7
"""Joint efficiency taken for the seams of a low tank (UW-12, not examined)."""


def _tube_part(shell: Shell, tube: Tubes, number: int, at: At) -> Part:
    """A tube pressed from outside."""
    name = f"{'tubes' if tube.count > 1 else 'flue'} {number}, from outside"
    material = _figures(shell, tube)
    if material.youngs_modulus is None:
        return Part(name, TUBE, None, None)
    sizes = (
        ("D_o", tube.outside_diameter, "length"),
        ("E_y", material.youngs_modulus, "stress"),
        ("ν", material.poisson, ""),
    )
    return _part(name, TUBE, _stresses(material, tube.material or shell.material, at), 1.0, tube.wall, 0.0, *sizes)
