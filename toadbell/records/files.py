"""Files as they are sent: whole or a piece at a time, with their kind, under a name where they are to be saved."""

from collections.abc import AsyncIterator, Iterator
from pathlib import Path
from typing import TypeVar
from urllib.parse import quote

from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIRequest
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

from toadbell.records.zip_files import pieces_of

Response = TypeVar("Response", bound=HttpResponseBase)


def sent(data: bytes, kind: str, save_as: str | None = None) -> HttpResponse:
    """A file. save_as  its name where a browser is to save it"""
    return _named(HttpResponse(data, content_type=kind), save_as)


def sent_for_good(request: HttpRequest, data: bytes, kind: str, save_as: str | None = None) -> HttpResponse:
    """A file that never changes under its address: the workshop's own machine may keep it; elsewhere nothing of the
    workshop stays on a disk, or whoever was shut out would have it still.
    """
    response = sent(data, kind, save_as)
    if getattr(request, "sits_here", False):
        response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def sent_from(request: HttpRequest, path: Path, kind: str, save_as: str | None = None) -> HttpResponseBase:
    """A file of any size from the disk, a piece at a time. Raises OSError where it is not there."""
    size = path.stat().st_size
    pieces = _beside(pieces_of(path)) if isinstance(request, ASGIRequest) else pieces_of(path)
    response = _named(StreamingHttpResponse(pieces, content_type=kind), save_as)
    response["Content-Length"] = str(size)
    return response


async def _beside(pieces: Iterator[bytes]) -> AsyncIterator[bytes]:
    """Pieces that are read in a thread of their own, so that nobody waits for the disk."""

    def following() -> bytes:
        return next(pieces, b"")

    read = sync_to_async(following, thread_sensitive=False)
    while piece := await read():
        yield piece


def _named(response: Response, save_as: str | None) -> Response:
    if save_as:
        response["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(save_as)}"
    return response
