"""Plans, verdicts and advice as documents, and back: the only room that turns one into the other."""

from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from toadbell.core.answers import DeriveAnswer
from toadbell.core.documents.upgrade import NAMES, SCHEMAS, Document, Kind, Unreadable, upgraded
from toadbell.core.judge.answers import FitnessAnswer, HoldPoint, JudgeAnswer
from toadbell.core.phrases import keep

Model = TypeVar("Model", bound=BaseModel)


@dataclass(frozen=True)
class FrozenPlan:
    """A plan as it was frozen: its sheet in the open format, its answer, and the version of the core that worked it
    out.
    """

    sheet: dict[str, Any]
    answer: DeriveAnswer
    core: str


def keep_plan(plan: FrozenPlan) -> Document:
    """A frozen plan as it is stored."""
    return {"schema": SCHEMAS["plan"], "sheet": plan.sheet, "answer": keep(plan.answer), "core": plan.core}


def read_plan(stored: Document) -> FrozenPlan:
    """A frozen plan as it was stored by any release up to this one, said to whoever listens now; raises Unreadable."""
    found = upgraded("plan", stored)
    return FrozenPlan(
        found.get("sheet") or {}, _read("plan", DeriveAnswer, found.get("answer")), str(found.get("core", ""))
    )


def keep_verdict(answer: JudgeAnswer) -> Document:
    """A verdict as it is stored."""
    return {"schema": SCHEMAS["verdict"], **keep(answer)}


def read_verdict(stored: Document) -> JudgeAnswer:
    """A verdict as it was stored, said to whoever listens now; raises Unreadable."""
    return _read("verdict", JudgeAnswer, upgraded("verdict", stored))


def keep_points(points: list[HoldPoint]) -> list[Document]:
    """The points of a hold as they are stored beside its verdict."""
    return [keep(point) for point in points]


def read_points(stored: list[Document]) -> list[HoldPoint]:
    """The points of a hold as they were stored; raises Unreadable."""
    return [_read("verdict", HoldPoint, point) for point in stored]


def keep_advice(answer: FitnessAnswer) -> Document:
    """What the tool advised, as it is stored beside a decision."""
    return {"schema": SCHEMAS["advice"], **keep(answer)}


def read_advice(stored: Document) -> FitnessAnswer:
    """What the tool advised, as it was stored, said to whoever listens now; raises Unreadable."""
    return _read("advice", FitnessAnswer, upgraded("advice", stored))


def _read(kind: Kind, model: type[Model], stored: Any) -> Model:
    try:
        return model.model_validate(stored)
    except ValidationError as problem:
        first = problem.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"]) or "all of it"
        raise Unreadable(
            f"the {NAMES[kind]} that was kept here cannot be read: {where} is missing or is not what it was. What was "
            "read and logged is "
            "there all the same; put it back from a backup"
        ) from problem
