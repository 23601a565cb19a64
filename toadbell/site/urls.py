"""Addresses: the API, and for everything else the page that carries the browser application."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from toadbell.site.api import api


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built browser application; it finds its own way from the address."""
    index = settings.WHITENOISE_ROOT / "index.html"
    if not index.exists():
        return HttpResponse("The browser application is not built yet: run make demo or make run.", status=503, content_type="text/plain")
    return HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|static/|assets/).*$", page)]
