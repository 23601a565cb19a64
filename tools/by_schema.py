"""Calls made up from the API's own schema, on whatever hangs in the workshop: which of them end in an error of the
server's own?

usage: python tools/by_schema.py [CALLS]      (or as a part of `make bench`)
"""

import json
import logging
import random
import sys
from pathlib import Path
from typing import Any

import schemathesis
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import seed as seeded
from schemathesis.core.result import Ok

LEFT_OUT = {"/api/jobs"}
"""Not called without being meant: jobs lay whole backups down."""


def by_schema(client: Client, calls: int, seed: int = 0) -> list[str]:
    """Make about so many calls, ids of what there is put in for most of those made up; gives those that broke
    something, in a line each.
    """
    from toadbell.site.api import api

    schema = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema())))
    found = [one.ok() for one in schema.get_all_operations() if isinstance(one, Ok)]
    wanted = [one for one in found if one.path not in LEFT_OUT]
    chance, broken = random.Random(seed), []
    ids = _ids()
    logging.disable(logging.CRITICAL)
    try:
        for operation in wanted:
            for case in _cases(operation, max(2, calls // len(wanted)), seed):
                answer = _call(client, case, ids, chance)
                if answer is not None and answer.status_code >= 500:
                    broken.append(
                        f"{case.method} {case.path} {case.path_parameters} {case.query} {str(case.body)[:300]}: "
                        f"{answer.content[:120]!r}"
                    )
    finally:
        logging.disable(logging.NOTSET)
    return broken


def _cases(operation: Any, many: int, seed: int) -> list[Any]:
    cases: list[Any] = []

    @seeded(seed)
    @settings(
        max_examples=many,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(operation.as_strategy())
    def draw(case: Any) -> None:
        cases.append(case)

    draw()
    return cases[:many]


def _ids() -> dict[str, list[str]]:
    """What hangs here, by the names that paths have for it."""
    from toadbell.shed.models import Kit, Vessel
    from toadbell.trials.models import Trial
    from toadbell.trials.models.sources import Device

    tables = {
        "trial_id": Trial,
        "vessel_id": Vessel,
        "kit_id": Kit,
        "device_id": Device,
        "one": Trial,
        "other": Trial,
        "vessel": Vessel,
    }
    return {name: [str(pk) for pk in model.objects.values_list("pk", flat=True)] for name, model in tables.items()}  # type: ignore[attr-defined]


def _call(client: Client, case: Any, ids: dict[str, list[str]], chance: random.Random) -> Any:
    """Make a call; None where the case cannot be put into one."""
    path, query = case.path, dict(case.query or {})
    for name, value in (case.path_parameters or {}).items():
        real = ids.get(name)
        path = path.replace("{" + name + "}", chance.choice(real) if real and chance.random() < 0.8 else str(value))
    for name in query:
        if ids.get(name) and chance.random() < 0.8:
            query[name] = chance.choice(ids[name])
    kind = case.media_type or "application/json"
    try:
        body = (
            b""
            if type(case.body).__name__ == "NotSet"
            else json.dumps(case.body).encode()
            if "json" in kind
            else str(case.body).encode()
        )
        return client.generic(
            case.method, path, body, content_type=kind, query_params={k: v for k, v in query.items() if v is not None}
        )
    except (TypeError, ValueError, UnicodeEncodeError):
        return None


def main() -> None:
    """On a database of its own, with a run on the bench and a record."""
    import os

    sys.path.insert(0, str(Path(__file__).parents[1]))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
    import django
    from django.test.utils import setup_databases, setup_test_environment, teardown_databases

    django.setup()
    from django.conf import settings as house

    house.OPEN_TO_ALL_HERE, house.JOBS_BESIDE = True, False
    setup_test_environment()
    kept = setup_databases(verbosity=0, interactive=False)
    try:
        from tests.server.conftest import Workshop, held, running

        workshop = Workshop(Client())
        running(workshop)
        held(workshop)
        calls = int(sys.argv[1]) if len(sys.argv) > 1 else 4000
        broken = by_schema(workshop.client, calls, seed=random.randrange(10**6))
        print(f"about {calls} calls made up from the schema: {len(broken)} broke something")
        for line in broken[:20]:
            print(" ", line)
    finally:
        teardown_databases(kept, verbosity=0)


if __name__ == "__main__":
    main()
