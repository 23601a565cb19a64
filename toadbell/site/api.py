"""The one API: a router per app, one shape of error, CSRF on every write."""

from uuid import UUID

from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Field, Schema
from ninja.security import django_auth

import toadbell
from toadbell.core import units
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.voiding import HAPPENINGS
from toadbell.core.phrases import say
from toadbell.core.physics.materials import MATERIALS
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.prepare import SUGGESTED
from toadbell.core.sheets.vessel import FITTED, FOR_TEST
from toadbell.people.api import router as people
from toadbell.people.models import SignedIn
from toadbell.records.api import router as records
from toadbell.records.attachments_api import router as attachments
from toadbell.records.backup_api import router as backups
from toadbell.records.due_api import router as due
from toadbell.records.jobs_api import router as jobs
from toadbell.records.package_api import router as packages
from toadbell.records.report_api import router as reports
from toadbell.records.shelf_api import router as shelf
from toadbell.records.signing_api import router as signing
from toadbell.shed.api import router as shed
from toadbell.shed.kit_api import router as kit
from toadbell.shed.models import Units
from toadbell.shed.people import Role
from toadbell.shed.wire import KeptParser
from toadbell.shed.workshop_api import router as workshop
from toadbell.site import errors
from toadbell.site.described import Described
from toadbell.site.share.api import router as share
from toadbell.trials.bench.api import router as bench
from toadbell.trials.bench.device_api import router as devices
from toadbell.trials.bench.files_api import router as bench_files
from toadbell.trials.bench.hunt_api import router as hunt
from toadbell.trials.judge.api import router as judge
from toadbell.trials.judge.kit_api import router as tried_kit
from toadbell.trials.plan.api import maker_of
from toadbell.trials.plan.api import router as trials

api = Described(title="Toad Bell", version=toadbell.__version__, auth=django_auth, docs_url=None, parser=KeptParser())
errors.register(api)
api.add_router("", shed, tags=["shed"])
api.add_router("", kit, tags=["kit"])
api.add_router("", workshop, tags=["kit"])
api.add_router("", trials, tags=["plan"])
api.add_router("", bench, tags=["bench"])
api.add_router("", bench_files, tags=["bench"])
api.add_router("", devices, tags=["devices"])
api.add_router("", judge, tags=["judge"])
api.add_router("", tried_kit, tags=["kit"])
api.add_router("", hunt, tags=["bench"])
api.add_router("", records, tags=["records"])
api.add_router("", attachments, tags=["attachments"])
api.add_router("", packages, tags=["records"])
api.add_router("", backups, tags=["records"])
api.add_router("", jobs, tags=["records"])
api.add_router("", due, tags=["records"])
api.add_router("", reports, tags=["records"])
api.add_router("", shelf, tags=["shed"])
api.add_router("", people, tags=["people"])
api.add_router("", signing, tags=["records"])
api.add_router("", share, tags=["people"])


class Choice(Schema):
    """Something to choose: its id in the open formats, and its name."""

    id: str
    name: str
    notes: str


class KindChoice(Choice):
    """A kind of vessel with what it sets by default."""

    basis: str
    medium: str
    proof_months: int


class OpeningChoice(Choice):
    """What may sit in an opening; `notes` is what is usually done with it for a test."""


class HappeningChoice(Choice):
    """What may happen to a vessel, or be done with it; `notes` is what it asks for."""


class Me(Schema):
    """Who is signed in, what they may do, their habits, and what there is to choose from.

    works      may they lay hands on vessels, plans and runs?
    here       is it the workshop's own machine?
    signed_in  did somebody sign in, or is it the owner without having to?
    run        the one run that a phone was let in for
    """

    id: UUID
    name: str
    role: Role
    initials: str
    colour: str
    works: bool
    here: bool
    signed_in: bool
    run: UUID | None
    units: Units
    zone: str
    version: str
    kinds: list[KindChoice]
    materials: list[Choice]
    fitted: list[OpeningChoice]
    for_test: list[Choice]
    happenings: list[HappeningChoice]


class Habits(Schema):
    """What a person may set for themselves."""

    units: Units
    name: str | None = Field(default=None, max_length=150)
    zone: str | None = Field(default=None, max_length=60)


class Written(Schema):
    """A quantity as somebody wrote it."""

    text: str = Field(max_length=200)
    kind: str = Field(max_length=40)
    default_unit: str | None = Field(default=None, max_length=40)


class ReadBack(Schema):
    """The quantity as it was understood: SI, in words in the person's unit, and in the other habit's; or what is wrong
    with it, which is no error while somebody types.
    """

    value: float | None = None
    unit: str = ""
    text: str
    shown: str = ""
    other: str = ""
    problem: str | None = None


def _me(request: HttpRequest) -> Me:
    get_token(request)
    maker, at = maker_of(request), SignedIn.of(request)
    return Me(
        id=maker.uid,
        name=maker.shown_name,
        role=Role(maker.role),
        initials=maker.initials or maker.shown_name[:1].upper(),
        colour=maker.colour,
        works=maker.works,
        here=request.sits_here,  # type: ignore[attr-defined]
        signed_in=at is not None,
        run=at.trial_id if at else None,
        units=Units(maker.units),
        zone=maker.zone,
        version=toadbell.__version__,
        kinds=[
            KindChoice(
                id=key,
                name=k.name,
                notes=k.notes,
                basis=BASES[k.basis].name,
                medium=k.medium,
                proof_months=k.proof_months,
            )
            for key, k in KINDS.items()
        ],
        materials=[Choice(id=key, name=say(f"material.{key}"), notes="") for key in MATERIALS],
        fitted=[OpeningChoice(id=key, name=key.replace("-", " "), notes=SUGGESTED.get(key, "keep")) for key in FITTED],
        for_test=[Choice(id=key, name=say(f"plan.do-{key}"), notes="") for key in FOR_TEST],
        happenings=[HappeningChoice(id=key, name=one.name, notes=one.means) for key, one in HAPPENINGS.items()],
    )


@api.get("/me", response=Me)
def me(request: HttpRequest) -> Me:
    """Who is signed in; also hands out the token that writes must carry."""
    return _me(request)


@api.put("/me", response=Me)
def set_habits(request: HttpRequest, data: Habits) -> Me:
    """Set the unit habit, and the name that stands on records."""
    maker_of(request).keep_habits(data.units, data.name, data.zone)
    return _me(request)


FAR, SMALL = 10.0, 5e-4
"""From so many metres on a length is one of the land; under so many m³ a volume is one of a measuring glass."""


def _in_use(kind: units.QuantityKind, name: str, value: float) -> tuple[str, str]:
    """The two units that a quantity of such a size is said in: metric, and the other."""
    if name == "length" and abs(value) >= FAR:
        return "m", "ft"
    return kind.metric, "in**3" if name == "volume" and value < SMALL else kind.imperial


@api.post("/quantities/read", response=ReadBack)
def read_quantity(request: HttpRequest, data: Written) -> ReadBack:
    """Read a quantity as a person wrote it; the answer says how it was understood."""
    if data.kind not in units.KINDS:
        raise units.QuantityError(f"“{data.kind}” is no kind of quantity: one of {', '.join(units.KINDS)}")
    try:
        found = units.read(data.text, data.kind, default_unit=data.default_unit)
    except units.QuantityError as problem:
        return ReadBack(text=data.text, problem=errors.in_sentence(str(problem)))
    bare = found.unit == data.default_unit and not data.text.strip().lower().endswith(found.unit.lower())
    kind = units.KINDS[data.kind]
    metric, imperial = _in_use(kind, data.kind, found.value)
    other = imperial if units.same_unit(found.unit, kind.metric, data.kind) or units.is_metric(found.unit) else metric
    if found.unit.endswith(" water"):  # a column: what a gauge shows of it
        other = "mbar"
    return ReadBack(
        value=found.value,
        unit=found.unit,
        text=f"{data.text.strip()} {found.unit}" if bare else data.text.strip(),
        shown=units.write(found.value, data.kind, found.unit),
        other=units.write(found.value, data.kind, other),
    )
