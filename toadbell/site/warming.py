"""Made warm before it says that it is ready: the first reading after a start is taken as quickly as the second."""

import io
import logging
from typing import Any

from asgiref.sync import SyncToAsync
from django.conf import settings
from django.core.handlers.asgi import ASGIRequest
from django.db import connection

from toadbell.site.door import Door
from toadbell.trials.bench.readings import on_the_bench_ids

_log = logging.getLogger("django")


def warm(door: Door, port: int) -> None:
    """Ask for what the first callers will ask for, in the thread that writes, and as whoever sits here. It changes
    nothing; what goes wrong is said in the log, and is told again to whoever asks for it.
    """
    paths = ["/api/me", *(f"/api/trials/{one}/bench" for one in on_the_bench_ids())]
    SyncToAsync.single_thread_executor.submit(_ask, door, port, paths).result()


def _ask(door: Door, port: int, paths: list[str]) -> None:
    open_to_all, settings.OPEN_TO_ALL_HERE = settings.OPEN_TO_ALL_HERE, True
    try:
        for path in paths:
            door.own.get_response(ASGIRequest(_scope(port, path), io.BytesIO())).close()
        connection.ensure_connection()
    except Exception:
        _log.exception("while it was made warm")
    finally:
        settings.OPEN_TO_ALL_HERE = open_to_all


def _scope(port: int, path: str) -> dict[str, Any]:
    return {
        "type": "http",
        "http_version": "1.1",
        "method": "GET",
        "scheme": "http",
        "path": path,
        "raw_path": path.encode(),
        "query_string": b"",
        "root_path": "",
        "headers": [(b"host", f"127.0.0.1:{port}".encode())],
        "client": ("127.0.0.1", 0),
        "server": ("127.0.0.1", port),
    }
