"""The application as a server sees it."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
application = get_asgi_application()
