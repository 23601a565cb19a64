"""Designs that several articles share: what those taken to failure prove, and what a vessel inherits of it."""

from django.db.models import Max

from toadbell.core.judge.burst import BurstAnswer, judge_burst
from toadbell.core.judge.inherit import Inherits, inherits
from toadbell.core.phrases import Said, say
from toadbell.core.plan.bases import BURST
from toadbell.core.procedures.burst import article_of
from toadbell.core.sheets import BurstSheet, SheetError, VesselSheet, read_kit, read_vessel_sheet
from toadbell.core.sheets.burst import ASKED_FACTOR, Article
from toadbell.core.sheets.kit import Design
from toadbell.shed.models import Kit, Vessel
from toadbell.trials.models import Event, State, Trial
from toadbell.trials.plan.frozen import Plan

KIND = "design"
OVER = (State.HELD, State.JUDGED, State.CLOSED)
"""A trial that came to its end; one that was broken off tells of no failure."""


def design_named(name: str | None) -> Design | None:
    """A design by its name, on the board or taken down; None where there is none that can be read."""
    for kit in Kit.objects.filter(kind=KIND, name=name) if name else ():
        try:
            found = read_kit(KIND, kit.sheet)
        except SheetError:
            continue
        if isinstance(found, Design):
            return found
    return None


def article(trial: Trial, events: list[Event] | None = None) -> Article | None:
    """What a run to failure tells of its article; None before it was pressed."""
    events = trial.effective_events() if events is None else events
    rows = trial.readings.filter(imported=None, at__gte=trial.started_at) if trial.started_at else trial.readings.none()
    highest = rows.aggregate(high=Max("pressure"))["high"] or 0.0
    earlier = Trial.objects.filter(vessel=trial.vessel, number__lt=trial.number).exclude(source="rig")
    before = earlier.aggregate(high=Max("readings__pressure"))["high"]
    return article_of(trial.vessel.name, events, highest, before)


def burst_of(trial: Trial, plan: Plan, events: list[Event]) -> BurstAnswer | None:
    """What a trial's article, with the others of its design, proves of it; None of any other trial.

    Practice counts with no other.
    """
    if plan.answer.procedure != BURST:
        return None
    own, name = article(trial, events), plan.sheet.design
    others = [] if trial.practice or not name else articles_of(name, but=trial)
    design = design_named(name)
    return judge_burst(
        BurstSheet.model_construct(
            procedure="burst",
            wanted=design.wanted if design else plan.sheet.working_pressure,
            asked=design.asked if design else plan.sheet.burst_factor or ASKED_FACTOR,
            expected=plan.answer.expected_burst,
            material=_material(design, plan.sheet),
            articles=[*others, *([own.model_copy(update={"departs": _departs(trial, design)})] if own else [])],
        )
    )


def articles_of(name: str, but: Trial | None = None) -> list[Article]:
    """Every article of a design that was taken to failure in earnest, oldest first."""
    trials = Trial.objects.filter(basis=BURST, state__in=OVER, started_at__isnull=False).exclude(source="rig")
    if but is not None:
        trials = trials.exclude(pk=but.pk)
    of_it = [trial for trial in trials.select_related("vessel").order_by("started_at") if _design_of(trial) == name]
    design = design_named(name)
    found = [(trial, article(trial)) for trial in of_it]
    return [one.model_copy(update={"departs": _departs(trial, design)}) for trial, one in found if one is not None]


def _departs(trial: Trial, design: Design | None) -> str | None:
    """In what an article departs from the design that it is said to be of; None where in nothing that is known."""
    name = _design_of(trial)
    if design is None or not name:
        return None
    told = inherits(design, name, read_vessel_sheet(trial.frozen_sheet if trial.frozen else trial.sheet))
    unlike = [f"{one.name}, {one.says}" for one in told.checks if one.state == "not met" and one.code != "wanted"]
    return "; ".join(unlike)[:400] or None


def _material(design: Design | None, sheet: VesselSheet | None = None) -> str | None:
    """Of what an article is made."""
    return design.material if design else sheet.shell.material if sheet and sheet.shell else None


def _design_of(trial: Trial) -> str | None:
    sheet = trial.frozen_sheet if trial.frozen else trial.sheet
    return sheet.get("design")


def proved(name: str) -> BurstAnswer | None:
    """What the articles of a design prove; None where there is no such design."""
    design = design_named(name)
    if design is None:
        return None
    sheet = BurstSheet.model_construct(
        procedure="burst",
        wanted=design.wanted,
        asked=design.asked,
        expected=None,
        material=design.material,
        articles=articles_of(name),
    )
    return judge_burst(sheet)


def of_its_design(sheet: VesselSheet) -> Inherits | None:
    """Does a vessel inherit what its design proved? None where it is of none that is known."""
    design = design_named(sheet.design)
    return None if design is None or sheet.design is None else inherits(design, sheet.design, sheet)


def stands_by_design(vessel: Vessel) -> tuple[bool | None, bool, Said] | None:
    """How a vessel stands by its design: met, not met or not known; whether it departs from it; and why. None where it
    is of no design.
    """
    name = vessel.sheet.get("design")
    if not name:
        return None
    try:
        sheet = vessel.read()
    except SheetError:
        return None
    told, burst = of_its_design(sheet), proved(str(name))
    if told is None or burst is None:
        return None, False, say("design.unknown", name=str(name))
    if told.inherits is not True:
        return None, told.inherits is False, _said(told.says)
    met = {"met": True, "not-met": False}.get(burst.answer)
    return met, False, _said(burst.says)


def _said(text: str) -> Said:
    return text if isinstance(text, Said) else Said(text)
