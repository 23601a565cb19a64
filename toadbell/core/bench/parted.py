"""A simulated rig that valves part: what the gauge still sees, and what stands by itself behind a shut valve."""

from collections.abc import Sequence
from dataclasses import replace

from toadbell.core.bench import rig as whole
from toadbell.core.bench.rig import Apart, Rig, RigState


def part_of(rig: Rig, sections: Sequence[str]) -> Rig:
    """The rig as far as some of its sections go; the whole where none is named. Leaks elsewhere do not run."""
    if not sections or not rig.sections:
        return rig
    share = sum(part for name, part in rig.sections if name in sections)
    gauged = rig.sections[0][0]
    return replace(
        rig,
        stiffness=share * rig.stiffness,
        swelling=share * rig.swelling,
        swelling_slope=share * rig.swelling_slope,
        wall_swelling=share * rig.wall_swelling,
        trapped_air=share * rig.trapped_air,
        settling=replace(rig.settling, volume=share * rig.settling.volume),
        leaks=tuple(leak if (leak.section or gauged) in sections else replace(leak, rate=0.0) for leak in rig.leaks),
        relief=rig.relief if gauged in sections else None,
    )


def seen(rig: Rig, state: RigState) -> Rig:
    """The part of the rig that the gauge sees."""
    return part_of(rig, state.open)


def advance(rig: Rig, state: RigState, until: float) -> RigState:
    """The rig at a later time, with what is parted from the gauge."""
    apart = tuple(
        replace(one, state=whole.advance(part_of(rig, one.sections), one.state, until)) for one in state.apart
    )
    return replace(whole.advance(seen(rig, state), state, until), apart=apart)


def set_valves(rig: Rig, state: RigState, groups: Sequence[Sequence[str]]) -> RigState:
    """Set its valves: the sections that they leave together, the gauge's first.

    What each section held goes with it, and evens out with what it is joined to.
    """
    shares = dict(rig.sections)
    held = {
        name: one.net * shares[name] / sum(shares[other] for other in names)
        for names, one in (
            (state.open or tuple(shares), state),
            *((apart.sections, apart.state) for apart in state.apart),
        )
        for name in names
    }
    nets = [sum(held[name] for name in group) for group in groups]
    still = replace(state, to_go=0, shut_in=True, lifted=False, apart=(), open=())
    apart = tuple(Apart(tuple(group), replace(still, net=net)) for group, net in zip(groups[1:], nets[1:], strict=True))
    return replace(state, net=nets[0], open=tuple(groups[0]) if apart else (), apart=apart)


def flows(rig: Rig, state: RigState) -> list[float]:
    """What runs out of each leak now, m³/s, behind a shut valve too."""
    parts = [whole.flows(seen(rig, state), state)]
    parts += [whole.flows(part_of(rig, one.sections), one.state) for one in state.apart]
    return [sum(each) for each in zip(*parts, strict=True)]


def trapped(rig: Rig, state: RigState) -> float:
    """The highest pressure that stands behind a shut valve, Pa; nought where none is shut."""
    return max((whole.pressure(part_of(rig, one.sections), one.state) for one in state.apart), default=0.0)
