"""The report and its charts, as files. What draws paper is loaded when it is asked for: a process that serves the bench
alone has no use for it.
"""

from typing import Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router

from toadbell.records.package_api import file_name
from toadbell.records.record import record_of
from toadbell.shed.errors import NotNow
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import maker_of

router = Router()
CHART = (760.0, 320.0)


@router.get("/records/{trial_id}/report.pdf", include_in_schema=False)
def pdf(
    request: HttpRequest, trial_id: UUID, paper: Literal["A4", "Letter"] = "A4", full: bool = False
) -> HttpResponse:
    """The report: two pages, or all of it."""
    from toadbell.records.paper.report import report

    trial = Trial.objects.select_related("vessel", "planned_by").get(pk=trial_id)
    data = report(record_of(trial, request), maker_of(request), paper, full)
    response = HttpResponse(data, content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{file_name(trial)}{"-full" if full else ""}.pdf"'
    return response


@router.get("/records/{trial_id}/{chart}.svg", include_in_schema=False)
def chart_svg(request: HttpRequest, trial_id: UUID, chart: Literal["run", "hold"]) -> HttpResponse:
    """A chart of the record as a drawing for other programs."""
    from toadbell.records.paper.charts import course_chart, hold_chart, svg
    from toadbell.records.paper.sheet import unit_for

    trial = Trial.objects.select_related("vessel", "planned_by").get(pk=trial_id)
    record = record_of(trial, request)
    unit = unit_for(maker_of(request), record.judge.plan)
    verdict, began = record.judge.verdict, record.started_at
    if began is None or (chart == "hold" and verdict is None):
        raise NotNow("There is no such chart of this trial: it was not run, or its hold was not judged.")
    if chart == "hold" and verdict is not None:
        drawing = hold_chart(record.judge.points, verdict, unit, *CHART)
    else:
        trace = [((point.at - began).total_seconds(), point.pressure) for point in record.trace]
        drawing = course_chart(record.judge.plan, trace, record.course_from, unit, *CHART)
    response = HttpResponse(svg(drawing), content_type="image/svg+xml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{file_name(trial)}-{chart}.svg"'
    return response
