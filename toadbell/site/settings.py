"""Settings. Everything a person keeps lives in one folder: TOADBELL_DATA, or `data` beside the code."""

import os
from pathlib import Path

from toadbell.site.folder import own, secret_key

BASE_DIR = Path(__file__).resolve().parents[2]
DATA_DIR = own(Path(os.environ.get("TOADBELL_DATA") or BASE_DIR / "data"))
ATTACHMENTS = Path(os.environ.get("TOADBELL_ATTACHMENTS") or DATA_DIR / "attachments")
DATABASE = Path(os.environ.get("TOADBELL_DATABASE") or DATA_DIR / "toadbell.sqlite3")
"""The database; another one while a copy is being made ready beside it."""
SECRET_KEY = secret_key(DATA_DIR)
DEBUG = False
JOBS_BESIDE = os.environ.get("TOADBELL_JOBS_BESIDE", "1") == "1"
"""Are long jobs done in processes of their own?"""
BESIDE = os.environ.get("TOADBELL_BESIDE") == "1"
"""Is this the process beside the door? It answers each request in a thread of its own, on a connection of its own."""
JUDGES_HERE = "TOADBELL_BESIDE_AT" not in os.environ
"""Is a hold that runs judged by this process when the bench is asked for? The door leaves it to the one beside."""
OPEN_TO_ALL_HERE = os.environ.get("TOADBELL_OPEN") == "1"
"""Is whoever sits at this machine taken for the owner? So in the demo, which holds nothing of anybody's."""
SHARE_ON_LOOPBACK = os.environ.get("TOADBELL_SHARE_ON_LOOPBACK") == "1"
"""May it be opened at 127.0.0.2 too, to try out on one machine how phones come?"""
ALLOWED_HOSTS = ["*"]
"""Which names it is asked for by is looked at with where the connection came in: toadbell.site.middleware.own_names."""

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "ninja",
    "toadbell.shed",
    "toadbell.trials",
    "toadbell.people",
    "toadbell.records",
    "toadbell.site",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "toadbell.site.middleware.headers",
    "toadbell.site.middleware.own_names",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "toadbell.site.middleware.own_pages_only",
    "toadbell.site.middleware.refusals_as_answers",
    "toadbell.site.middleware.KeptSessions",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "toadbell.site.middleware.who_asks",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "toadbell.site.urls"
ASGI_APPLICATION = "toadbell.site.asgi.application"
AUTH_USER_MODEL = "shed.Maker"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATABASE,
        "CONN_MAX_AGE": 0 if BESIDE else None,
        "OPTIONS": {
            "timeout": 10,
            "transaction_mode": "IMMEDIATE",
            # FULL: a reading that was acknowledged is on the disk, whatever happens to the machine.
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA foreign_keys=ON;"
            "PRAGMA busy_timeout=10000;PRAGMA wal_autocheckpoint=4000;",
        },
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False

STATIC_URL = "static/"
WHITENOISE_ROOT = BASE_DIR / "web" / "dist"
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/"
WHITENOISE_INDEX_FILE = False

SESSION_COOKIE_NAME = "toadbell_session"
SESSION_COOKIE_SAMESITE = "Strict"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 365
CSRF_COOKIE_NAME = "toadbell_csrf"
CSRF_COOKIE_SAMESITE = "Strict"
CSRF_FAILURE_VIEW = "toadbell.site.errors.csrf_failure"
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
DATA_UPLOAD_MAX_MEMORY_SIZE = 10_000_000
FILE_UPLOAD_TEMP_DIR = DATA_DIR
FILE_UPLOAD_PERMISSIONS = 0o600
CONTENT_SECURITY_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data: blob:; "
    "connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors "
    "'none'"
)

NINJA_PAGINATION_MAX_LIMIT = 1000
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django": {"handlers": ["console"], "level": "WARNING"}},
}
