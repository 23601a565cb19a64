"""The application as a server sees it."""

import os
from typing import Any

import django
from django.core.handlers.asgi import ASGIHandler

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
django.setup(set_prefix=False)


class InOneThread(ASGIHandler):
    """Every request's work in one thread, on one kept connection.

    SQLite lets one writer in at a time; a thread and a connection for each request would have them wait for each other, and
    for the interpreter, longer than their work takes.
    """

    async def __call__(self, scope: dict[str, Any], receive: Any, send: Any) -> None:
        """Answer an HTTP request."""
        if scope["type"] != "http":
            raise ValueError(f"only HTTP is served here, not {scope['type']}")
        await self.handle(scope, receive, send)


application = InOneThread()
