"""The kinds of vessel and what each sets by default. Every trial is open to every kind it makes sense for."""

from dataclasses import dataclass

from toadbell.core.phrases import Said, say


@dataclass(frozen=True)
class VesselKind:
    """Defaults of a kind.

    basis            id of the default basis; `repeat_basis` once it passed a trial
    medium           "water" or "air"
    air_energy_cap   J of stored air above which an air test is a stop
    look_fraction    first stage as a part of the test pressure
    proof_months     until the next proof, when nothing happens in between
    flat             it may have flat sides, a lid or a bag, which give under air
    wet              inside, whenever it is tried
    """

    id: str
    basis: str
    medium: str
    proof_months: int
    air_energy_cap: float = 2000.0
    look_fraction: float = 0.25
    tight_pressure: float | None = None
    repeat_basis: str | None = None
    flat: bool = False
    wet: bool = False

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"kind.{self.id}")

    @property
    def notes(self) -> Said:
        """What matters most, in a sentence."""
        return say(f"kind.{self.id}-notes")


KINDS: dict[str, VesselKind] = {
    each.id: each
    for each in (
        VesselKind("boiler", "first-200", "water", 48, repeat_basis="repeat-150"),
        VesselKind("receiver", "proof-150", "water", 36),
        VesselKind("fermenter", "proof-150", "water", 24),
        VesselKind("chamber", "chamber", "water", 24, look_fraction=0.15),
        VesselKind("digester", "gas-head", "air", 12, flat=True),
        VesselKind("sheet-tank", "tight", "air", 24, tight_pressure=15_000.0, flat=True),
        VesselKind("cooler", "tight", "air", 24, tight_pressure=100_000.0),
        VesselKind("enclosure", "tight", "air", 24, tight_pressure=1_000.0, flat=True),
        VesselKind("cask", "tight", "air", 24, tight_pressure=25_000.0, wet=True),
        VesselKind("pipework", "piping-150", "water", 24),
        VesselKind("joint", "proof-150", "water", 24),
    )
}
