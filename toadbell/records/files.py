"""Files as they are sent: whole, with their kind, under a name where they are to be saved."""

from urllib.parse import quote

from django.http import HttpResponse


def sent(data: bytes, kind: str, save_as: str | None = None, kept: bool = False) -> HttpResponse:
    """A file. save_as  its name where a browser is to save it; kept  it never changes under its address, and may be kept."""
    response = HttpResponse(data, content_type=kind)
    if save_as:
        response["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(save_as)}"
    if kept:
        response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
