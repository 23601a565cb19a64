"""The parts of a report, each a list of what flows onto its pages."""

from typing import Any

from reportlab.platypus import Flowable, Image, KeepTogether, Spacer

from toadbell.core import phrases, units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.burst import BurstAnswer
from toadbell.core.judge.expansion import ExpansionAnswer
from toadbell.core.judge.relief import ReliefAnswer
from toadbell.core.judge.steam import SteamAnswer
from toadbell.core.judge.tightening import TighteningAnswer
from toadbell.core.judge.verdict import show_leak
from toadbell.core.lines import Line as Working
from toadbell.records.models import Attachment
from toadbell.records.paper.charts import course_chart, hold_chart
from toadbell.records.paper.elevation import elevation
from toadbell.records.paper.pieces import (
    NO_PADDING,
    TIGHT,
    Laid,
    clock,
    day,
    facts,
    in_columns,
    moment,
    of_the_valve,
    part,
    per_cent,
    table,
    tag,
)
from toadbell.records.paper.signed import signatures
from toadbell.records.paper.style import (
    BODY,
    BOLD,
    BRASS,
    FAINT,
    FIGURE,
    LEAD,
    MOSS,
    RIGHT,
    RIGHT_FAINT,
    SMALL,
    TITLE,
    VERMILION,
    marked,
    para,
)
from toadbell.records.record import RecordOut
from toadbell.shed.models import Maker
from toadbell.trials.bench.shapes import LeakOut

PLAN_LINES = (
    "test_pressure",
    "gauge_target",
    "ceiling",
    "allowable",
    "volume",
    "compliance",
    "energy.water",
    "energy.air_at_test",
)


def unit_for(maker: Maker, plan: DeriveAnswer) -> str:
    """The unit in which a person reads the pressures of a plan."""
    return phrases.unit_for(plan.test_pressure, maker.pressure_unit)


PRACTICE = "Run on the simulated rig. It proves nothing of the vessel: no tag, no date, no proof."

Checked = ReliefAnswer | SteamAnswer | ExpansionAnswer | TighteningAnswer | BurstAnswer


class Sheet:
    """The parts of a report, each a list of what flows onto the page."""

    def __init__(self, record: RecordOut, maker: Maker, width: float) -> None:
        self.record, self.judge, self.plan, self.width = record, record.judge, record.judge.plan, width
        self.imperial = maker.pressure_unit == "psi"
        self.unit = unit_for(maker, self.plan)
        self.length_unit = maker.length_unit

    # -- pages --------------------------------------------------------------------------------

    def first_page(self) -> list[Flowable]:
        """Whose record it is, the vessel, the kit, the plan and the run."""
        return [*self._title(), *self._vessel(), *self._kit(), *self._plan(), *self._run()]

    def second_page(self, full: bool) -> list[Flowable]:
        """The hold, the leaks, what it rests on, the decision, the next dates and pictures."""
        decided = self._decision()
        return [
            *self._hold(),
            *self._leaks(),
            *self._sections(),
            *self._evidence(full),
            *([KeepTogether(decided)] if full else decided),
            *signatures(self.record.signing, self.width),
            *self._pictures(None if full else 4),
        ]

    def working(self) -> list[Flowable]:
        """The plan's lines and what was to be done with each opening."""
        rows = [[para("opening", FAINT), para("for the test", FAINT), para("", FAINT)]]
        rows += [
            [para(o.name, SMALL), para(o.do, SMALL), para("done" if o.ready else "not ticked", SMALL)]
            for o in self.plan.openings
        ]
        cautions = [para(caution.says, SMALL) for caution in self.plan.cautions]
        found = [
            *part("Lines of the plan"),
            *self._lines([line for line in self.plan.lines if line.figure in PLAN_LINES]),
        ]
        if self.plan.openings:
            found += [*part("Openings"), table(rows, [0.25 * self.width, 0.6 * self.width, 0.15 * self.width])]
        return found + ([*part("Cautions that were read"), *cautions] if cautions else [])

    def appendix(self) -> list[Flowable]:
        """The hold's lines and the whole log."""
        verdict, began = self.judge.verdict, self.record.started_at
        found: list[Flowable] = []
        if verdict:
            found += [*part("Lines of the hold"), *self._lines(verdict.lines)]
        found += (
            [*part("Lines of the fitness"), *self._lines(self.judge.advice.lines)] if self.judge.advice.lines else []
        )
        rows = [
            [para(clock(line.at, began), FIGURE), para(line.says, SMALL), para(line.by, FAINT)]
            for line in self.record.log
        ]
        if rows:
            found += [*part("The log"), table(rows, [0.14 * self.width, 0.66 * self.width, 0.2 * self.width])]
        return found

    # -- parts --------------------------------------------------------------------------------

    def _title(self) -> list[Flowable]:
        record, decision = self.record, self.judge.decision
        by = ", run by " + ", ".join(record.ran_by) if record.ran_by else ""
        left = [
            para(
                {"steam": "Record of a first steam"}.get(self.plan.procedure)
                or ("Record of a hydrostatic trial" if self.plan.medium == "water" else "Record of a trial under air"),
                FAINT,
            ),
            para(self.judge.vessel, TITLE),
            para(f"Trial {self.judge.number}, begun {moment(record.started_at)}. Planned by {record.planned_by}{by}."),
        ]
        hung = (
            of_the_valve(decision.valve, decision.says, day(decision.at))
            if decision and decision.valve
            else tag(decision.fitness, self.pressure(decision.pressure), day(decision.at))
            if decision
            else tag("not proven", "not decided", "")
        )
        if self.judge.practice:
            hung = tag("not proven", "practice", day(record.started_at))
        return [Laid([[left, hung]], [self.width - 150, 150], style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *NO_PADDING])]

    def _vessel(self) -> list[Flowable]:
        shape = self.record.shape
        known = [(str(fact.name), str(fact.value)) for fact in self.record.facts]
        drawing = elevation(shape, [o.name for o in self.plan.openings], self.record.leaks, 0.46 * self.width, 150)
        numbered = ", ".join(f"{n} {o.name}" for n, o in enumerate(self.plan.openings, 1))
        right: list[Flowable] = [drawing, *([para(f"Openings: {numbered}", FAINT)] if numbered else [])]
        return [
            *part("The vessel"),
            Laid(
                [[facts(known, 0.52 * self.width), right]],
                [0.53 * self.width, 0.47 * self.width],
                style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *NO_PADDING],
            ),
        ]

    def _kit(self) -> list[Flowable]:
        sheet, rows = self.record.sheet, []
        for key in ("gauge", "thermometer", "pump"):
            one = sheet.get(key)
            if isinstance(one, dict):
                rest = ", ".join(
                    f"{name.replace('_', ' ')} {value}"
                    for name, value in one.items()
                    if name not in ("name", "calibrated")
                )
                seen = (
                    f"calibrated {day(one['calibrated'])}"
                    if one.get("calibrated")
                    else "no calibration on record"
                    if key == "gauge"
                    else ""
                )
                rows.append([para(key, FAINT), para(rest, SMALL, bold=str(one.get("name") or "")), para(seen, SMALL)])
            else:
                rows.append([para(key, FAINT), para("none on record", SMALL), para("", SMALL)])
        return [*part("The kit"), table(rows, [0.15 * self.width, 0.6 * self.width, 0.25 * self.width])]

    def _plan(self) -> list[Flowable]:
        plan, began = self.plan, self.record.started_at
        basis = next((b.name for b in plan.bases if b.id == plan.basis), plan.basis or "")
        lead = (
            f"{basis}: {self.pressure(plan.gauge_target)} on the gauge, for {self.pressure(plan.working_pressure)} "
            "wanted."
        )
        most = f"{self.pressure(plan.ceiling.pressure)}, set by {plan.ceiling.set_by}" if plan.ceiling.pressure else ""
        if plan.ceiling.known:
            ceiling = f" Ceiling {most}."
        else:
            ceiling = f" The ceiling is not known{most and f'; what is known of it allows {most}'}."
        hold = f" Hold of {units.span(plan.hold.minimum)}; accepted: {self.judge.accepted}."
        rows = [
            [para(text, FAINT if text == "stage" else RIGHT_FAINT) for text in ("stage", "planned", "reached", "at")]
        ]
        for stage in self.record.stages:
            reached = self.pressure(stage.pressure) if stage.pressure is not None else "not reached"
            rows.append(
                [
                    para(stage.name, SMALL),
                    para(self.pressure(stage.target), RIGHT),
                    para(reached, RIGHT if stage.pressure is not None else RIGHT_FAINT),
                    para(clock(stage.at, began), RIGHT),
                ]
            )
        # Many stages stand in two columns, so that the page holds them.
        half = -(-len(self.record.stages) // 2)
        both = (
            [
                Laid(
                    [
                        [
                            table(rows[: half + 1], [0.115 * self.width] + 3 * [0.126 * self.width]),
                            table([rows[0], *rows[half + 1 :]], [0.115 * self.width] + 3 * [0.126 * self.width]),
                        ]
                    ],
                    style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *NO_PADDING],
                )
            ]
            if half > 2
            else [table(rows, [0.25 * self.width] * 4)]
        )
        return [*part("The plan"), para(ceiling + hold, BODY, bold=lead), Spacer(1, 3), *both]

    def _run(self) -> list[Flowable]:
        record, began = self.record, self.record.started_at
        if began is None:
            return [*part("The run"), para("It was not run.")]
        trace = [((point.at - began).total_seconds(), point.pressure) for point in record.trace]
        chart = course_chart(self.plan, trace, record.course_from, self.unit, self.width, 225)
        over = [para(record.ended, LEAD)] if record.ended else []
        return [*part("The run"), *over, para(f"{record.readings} readings, {record.source}.", SMALL), chart]

    def _hold(self) -> list[Flowable]:
        verdict = self.judge.verdict
        if self.judge.valve is not None:
            return self._checked("The relief valve", self.judge.valve)
        if self.judge.steam is not None:
            return self._checked("The first steam", self.judge.steam)
        if self.judge.burst is not None:
            return self._checked("Taken to failure", self.judge.burst)
        if verdict is None:
            return [*part("The hold"), para("No hold was judged in this trial.")]
        steps = [f"{step.says} {'Put back by hand.' if step.put_back else 'Cut out.'}" for step in verdict.steps]
        notes = [
            para(text, SMALL) for text in ([verdict.school_says] if verdict.school_says else []) + steps + verdict.notes
        ]
        leak = verdict.leak
        rows = [
            (
                "Leak, mean over the hold",
                f"{show_leak(leak.estimate)} ({show_leak(leak.low)} to {show_leak(leak.high)}, 95 %)",
            ),
            ("Limit", f"{show_leak(verdict.limit)}"),
            ("Probability of no more than that", per_cent(verdict.confidence)),
            ("Shut in, and fell by", f"{self.pressure(self.judge.held_pressure)}, {self.pressure(verdict.drop, 2)}"),
            (
                "Of it by temperature",
                self.pressure(verdict.drop_from_temperature, 2)
                if verdict.drop_from_temperature is not None
                else "not known",
            ),
            (
                "Held, readings",
                f"{units.span(verdict.hold)}, {verdict.readings}",
            ),
            ("Gives", f"{units.write(verdict.compliance, 'compliance', figures=3)}, {verdict.compliance_from}"),
        ]
        chart = hold_chart(self.judge.points, verdict, self.unit, self.width, 245)
        return [
            *part("The hold"),
            para(verdict.says, LEAD),
            *notes,
            Spacer(1, 3),
            in_columns(rows, self.width),
            Spacer(1, 4),
            chart,
            *(self._checked("What it gave and kept", self.judge.expansion) if self.judge.expansion else []),
            *(self._checked("The joint", self.judge.joint) if self.judge.joint else []),
        ]

    def _checked(self, title: str, told: Checked) -> list[Flowable]:
        """What a relief valve's rounds, a first steam or an expansion prove, line by line."""
        lines = [para(f"{check.name}: {check.state}. {check.says}", SMALL) for check in told.checks]
        return [*part(title), para(told.says, LEAD), *lines]

    def _leaks(self) -> list[Flowable]:
        if not self.record.leaks:
            return [*part("Leaks and mends"), para("None was found.")]
        lines = []
        for number, leak in enumerate(self.record.leaks, 1):
            mended = f"Mended: {leak.mend}." if leak.mend else "Not mended in this trial."
            told = f"{leak.where}, {leak.whose}, {leak.shows}{_seen(leak)}. {mended}"
            lines.append(para(told, BODY, bold=f"{number}"))
            if len(leak.story) > 2:
                lines += [para(f"Trial {one.trial}: {one.says}", SMALL) for one in leak.story[1:]]
        return [*part("Leaks and mends"), *lines]

    def _sections(self) -> list[Flowable]:
        """The leak of each section that valves parted, where any was held."""
        circuit = self.record.circuit
        if circuit is None or circuit.says is None:
            return []
        lines = [
            para(phrases.say("hunt.section-line", name=one.name, low=one.low, high=one.high), SMALL)
            for one in circuit.sections
            if one.low is not None and one.high is not None
        ]
        return [*part("Sections"), para(circuit.says), *lines]

    def _evidence(self, full: bool) -> list[Flowable]:
        ledger = self.judge.advice.evidence
        tones = {"met": MOSS, "not met": VERMILION, "not known": BRASS}
        cells: list[Any] = []
        for line in ledger:
            colour = tones[line.state].hexval().replace("0x", "#")
            text = f'<font name="{BOLD}" color="{colour}">{line.state}</font>&nbsp; {marked(line.name)}' + (
                f" – {marked(line.says)}" if full or line.state != "met" else ""
            )
            cells.append(type(para(""))(text, SMALL))
        if full:
            return [*part("What it rests on"), *cells]
        half = -(-len(cells) // 2)
        rows = [[cells[i], cells[half + i] if half + i < len(cells) else ""] for i in range(half)]
        return [
            *part("What it rests on"),
            Laid(rows, [0.5 * self.width] * 2, style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *TIGHT]),
        ]

    def _decision(self) -> list[Flowable]:
        decision, advice = self.judge.decision, self.judge.advice
        if decision is None:
            return [
                *part("Decision"),
                para(f"Not decided. As far as the evidence goes: {advice.answer}. {advice.says}"),
            ]
        allowed = decision.pressure is not None
        rows = [("Practice", PRACTICE)] if self.judge.practice else []
        rows += [
            (
                "Decided",
                decision.says + (f", for no more than {self.pressure(decision.pressure)}" if allowed else ""),
            ),
            ("By, on", f"{decision.by}, {day(decision.at)}"),
            ("Reason", decision.reason or "none written"),
            (
                "The evidence said",
                f"{advice.answer}{f', {self.pressure(advice.pressure)}' if advice.pressure is not None else ''}: "
                f"{advice.says}",
            ),
        ]
        if decision.less_cautious:
            rows.append(("Mark", "The decision goes further than the evidence."))
        names = {line.code: line.name for line in advice.evidence}
        rows += [(f"Beyond “{names.get(code, code)}”", why) for code, why in decision.overruled.items()]
        if allowed and decision.fitness != "tight" and not self.judge.practice:
            rows.append(("Relief valve, and switch", f"set at no more than {self.pressure(decision.pressure)}"))
            dates = "; ".join(
                f"{due.what} {f'by {day(due.on)}' if due.on else due.says}" for due in self.record.next_dates
            )
            rows.append(
                ("Next", f"{dates or f'proof by {day(decision.next_proof)}'}. Sooner after any knock, mend or change.")
            )
        return [*part("Decision"), facts(rows, self.width, 0.24)]

    def _pictures(self, most: int | None) -> list[Flowable]:
        found = [
            one
            for one in self.record.attachments
            if (one.kind == "photo" and one.trial == self.judge.id) or (one.kind == "photo" and most is None)
        ]
        papers = [one for one in self.record.attachments if one.kind == "paper"]
        high = 62 if most else 120
        cells = []
        for one in found[:most]:
            path = Attachment(id=one.id, kind="photo").path
            if path.exists() and one.wide and one.tall:
                wide = min(high * one.wide / one.tall, self.width / 4 - 8)
                cells.append(
                    [Image(path, wide, wide * one.tall / one.wide), para(one.text or one.name or "picture", FAINT)]
                )
        rows = [cells[i : i + 4] for i in range(0, len(cells), 4)]
        shown = [
            Laid(
                [row + [""] * (4 - len(row))],
                [self.width / 4] * 4,
                style=[("VALIGN", (0, 0), (-1, -1), "BOTTOM"), *TIGHT],
            )
            for row in rows
        ]
        listed = (
            [para(f"Papers kept with it: {', '.join(one.text or one.name for one in papers)}.", SMALL)]
            if papers
            else []
        )
        return [*part("Pictures"), *shown, *listed] if shown or listed else []

    # -- figures --------------------------------------------------------------------------------

    def pressure(self, value: float | None, figures: int = 4) -> str:
        """A pressure in the person's unit."""
        return "not known" if value is None else units.write(value, "pressure", self.unit, figures=figures)

    def length(self, value: float | None) -> str:
        """A length in the person's unit."""
        return "not known" if value is None else units.write(value, "length", self.length_unit, figures=3)

    def _lines(self, lines: list[Working]) -> list[Flowable]:
        rows = [
            [
                para(f"{line.symbol} = {line.shown}", FIGURE),
                [para(f"{line.formula}: {line.numbers}", SMALL), para(line.source, FAINT)],
            ]
            for line in lines
        ]
        return [table(rows, [0.28 * self.width, 0.72 * self.width])] if rows else []


def _seen(leak: LeakOut) -> str:
    """From where its pin is seen, where that is not the drawing's own side."""
    return f", {leak.pin.seen}" if leak.pin and leak.pin.view != "front" else ""
