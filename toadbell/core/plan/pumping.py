"""What the strokes are held against: air let pass, and strokes a bar over the straight part's.

Source: handbook of the job.
"""

AIR_LIMIT, AIR_LIMIT_LOW_ENERGY = 0.001, 0.005
"""Air let pass, as a part of the volume; the second where little energy is stored."""
LOW_ENERGY = 10.0
"""Energy of water, wall and air at the test below which more air is let pass, J."""
STROKE_RATIO, FAILED_RATIO = 1.5, 2.0


def air_let_pass(volume: float, energy: float | None) -> float:
    """Air that may stay in, m³ at atmosphere.

    volume  of the vessel, m³
    energy  stored at the test in water, wall and air, J; None where not known
    """
    return volume * (AIR_LIMIT_LOW_ENERGY if energy is not None and energy < LOW_ENERGY else AIR_LIMIT)
