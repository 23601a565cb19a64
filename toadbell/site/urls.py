"""Addresses: the API, the link of one use, and for everything else the page that carries the browser application."""

from django.urls import path, re_path

from toadbell.site.api import api
from toadbell.site.enter import enter
from toadbell.site.pages import page
from toadbell.site.share.api import workshop_certificate

urlpatterns = [
    path("api/", api.urls),
    path("workshop.crt", workshop_certificate),
    path("enter/<str:secret>", enter),
    re_path(r"^(?!api/|static/|assets/).*$", page),
]
handler400 = "toadbell.site.pages.bad_request"
handler403 = "toadbell.site.pages.refused"
handler404 = "toadbell.site.pages.not_found"
handler500 = "toadbell.site.pages.failed"
