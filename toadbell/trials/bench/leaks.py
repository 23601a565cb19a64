"""Leaks as the bench, the record and a vessel's page show them: each with its pin, its rate and its story; the ways and
compounds to choose from.
"""

import dataclasses
import math

from toadbell.core.hunt.acts import ACTS, asks_of
from toadbell.core.hunt.compounds import COMPOUNDS
from toadbell.core.phrases import say
from toadbell.core.physics.water import ROOM
from toadbell.core.sheets import VesselSheet
from toadbell.trials.bench.hunt import mends_of, rate_of, story_of, threads, times_tightened, told_of
from toadbell.trials.bench.shapes import CompoundOut, EarlierLeak, LeakOut, MendOut, PinOut, RateOut, ToldOut
from toadbell.trials.models import Event, Finding, Trial
from toadbell.trials.plan.frozen import plan_of


def leaks_out(trial: Trial) -> list[LeakOut]:
    """The leaks that were found, each with what was done about it, oldest first."""
    sheet, leaks = plan_of(trial).sheet, list(Finding.of(trial).select_related("same"))
    told = told_of(leaks)
    return [
        LeakOut(
            id=leak.id,
            at=leak.at,
            owner=leak.owner,
            whose=say(f"leak.{leak.owner}"),
            where=leak.where,
            shows=leak.shows,
            pin=pin_out(leak, sheet),
            mend=_mend_says(leak, told),
            found=leak.found,
            pressure=leak.pressure,
            rate=_rate_out(leak),
            times_tightened=times_tightened(leak, told),
            until=leak.until,
            story=[ToldOut(**dataclasses.asdict(one)) for one in story_of(leak, told)],
        )
        for leak in leaks
    ]


def _mend_says(leak: Finding, told: list[Event]) -> str | None:
    """What was done about a leak last, in words; None where nothing was."""
    event = next(reversed(mends_of(leak, told)), None)
    if event is None or not event.data.get("act"):
        return leak.mend or None
    name = say(f"hunt.{event.data['act']}")
    compound = f", {say('hunt.' + event.data['compound'])}" if event.data.get("compound") else ""
    return f"{name}{compound}{'; ' + leak.mend if leak.mend else ''}"


def _rate_out(leak: Finding) -> RateOut | None:
    told = rate_of(leak)
    return None if told is None else RateOut(rate=told.rate, low=told.low, high=told.high)


def ways(sheet: VesselSheet) -> list[MendOut]:
    """The ways of mending that suit a vessel; what is for wood, for casks alone."""
    wood = sheet.kind == "cask"
    return [
        MendOut(
            id=act.id,
            name=act.name,
            seals=act.seals,
            asks={owner: asks_of(act, owner) for owner in ("boundary", "fitting", "rig")},
        )
        for act in ACTS.values()
        if wood or not act.for_wood
    ]


def compounds(sheet: VesselSheet) -> list[CompoundOut]:
    at = sheet.water_temperature or ROOM
    return [
        CompoundOut(
            id=one.id,
            name=one.name,
            cures_in=None if math.isinf(one.cures_in(at)) else one.cures_in(at),
            source=one.source,
        )
        for one in COMPOUNDS().values()
    ]


def earlier(trial: Trial) -> list[EarlierLeak]:
    """Leaks of the vessel's other trials, the latest first; practice goes with none of them."""
    if trial.practice:
        return []
    return [
        EarlierLeak(id=one.pk, says=say("hunt.earlier", where=one.where, number=one.trial.number))
        for one in threads(trial.vessel)
        if one.trial_id != trial.pk
    ][:20]


def pin_out(leak: Finding, sheet: VesselSheet) -> PinOut | None:
    pin = leak.pin
    if pin is None:
        return None
    standing = sheet.box is not None or sheet.position == "standing"
    seen = f"leak.from-{pin.view.replace(' ', '-')}{'-standing' if standing and pin.view.startswith('end') else ''}"
    return PinOut(**pin.model_dump(), seen=say(seen))
