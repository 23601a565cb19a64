"""The kinds of vessel and what each sets by default. Every trial is open to every kind it makes sense for."""

from dataclasses import dataclass


@dataclass(frozen=True)
class VesselKind:
    """Defaults of a kind.

    name             as people call it
    basis            id of the default basis; `repeat_basis` once it passed a trial
    medium           "water" or "air"
    air_energy_cap   J of stored air above which an air test is a stop
    look_fraction    first stage as a part of the test pressure
    proof_months     until the next proof, when nothing happens in between
    notes            what matters most, in a sentence
    """

    name: str
    basis: str
    medium: str
    proof_months: int
    notes: str
    air_energy_cap: float = 2000.0
    look_fraction: float = 0.25
    tight_pressure: float | None = None
    repeat_basis: str | None = None


KINDS: dict[str, VesselKind] = {
    "boiler": VesselKind(
        "Steam boiler",
        "first-200",
        "water",
        48,
        "Fire tubes and flues are pressed from outside. Certificates come from the club's or the insurer's inspector, not from here.",
        repeat_basis="repeat-150",
    ),
    "receiver": VesselKind(
        "Air receiver",
        "proof-150",
        "water",
        36,
        "It rusts inside along the line where water stands. Drain it daily; set the relief at or under the proven pressure.",
    ),
    "fermenter": VesselKind(
        "Pressure fermenter or keg",
        "proof-150",
        "water",
        24,
        "The relief valve is the last line, never the regulator. Plastic: the maker's limits rule.",
    ),
    "chamber": VesselKind(
        "Pressure chamber or motor case",
        "chamber",
        "water",
        24,
        "Every change of diameter, wall, lay-up or closure asks for a new proof.",
        look_fraction=0.15,
    ),
    "digester": VesselKind(
        "Biogas digester or gas-holder",
        "gas-head",
        "air",
        12,
        "Seals are the limit, not the wall. Test with air before feedstock: methane burns, hydrogen sulphide poisons.",
    ),
    "sheet-tank": VesselKind(
        "Thin sheet tank",
        "tight",
        "air",
        24,
        "A little pressure folds flat sides. Gas-free it by a competent method first; never near a flame.",
        tight_pressure=15_000.0,
    ),
    "cooler": VesselKind(
        "Radiator, oil cooler or exchanger",
        "tight",
        "air",
        24,
        "Blank both ports; the maker's cap or test pressure rules.",
        tight_pressure=100_000.0,
    ),
    "enclosure": VesselKind(
        "Sealed housing",
        "tight",
        "air",
        24,
        "Plug the breather for the test and refit it after. Use a small diaphragm pump.",
        tight_pressure=1_000.0,
    ),
    "cask": VesselKind("Wooden cask", "tight", "air", 24, "Dry wood leaks until it swells.", tight_pressure=25_000.0),
    "pipework": VesselKind(
        "Pipework or loop",
        "piping-150",
        "water",
        24,
        "Shut sections off one by one, heater off and cold. No plastic pipe under compressed air.",
    ),
    "joint": VesselKind(
        "A single joint", "proof-150", "water", 24, "Enough turning is where the leak stops; more harms."
    ),
}
