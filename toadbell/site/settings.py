"""Settings. Everything a person keeps lives in one folder: TOADBELL_DATA, or `data` beside the code."""

import os
from pathlib import Path

from django.core.management.utils import get_random_secret_key

BASE_DIR = Path(__file__).resolve().parents[2]
DATA_DIR = Path(os.environ.get("TOADBELL_DATA") or BASE_DIR / "data")
DATA_DIR.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    """The key that signs sessions: made at the first start, readable by its owner alone."""
    path = DATA_DIR / "secret-key"
    try:
        with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as new:
            new.write(get_random_secret_key())
    except FileExistsError:
        pass
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "ninja",
    "toadbell.shed",
    "toadbell.trials",
    "toadbell.records",
    "toadbell.site",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "toadbell.site.middleware.headers",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "toadbell.site.middleware.local_owner",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "toadbell.site.urls"
ASGI_APPLICATION = "toadbell.site.asgi.application"
AUTH_USER_MODEL = "shed.Maker"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "toadbell.sqlite3",
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 10,
            "transaction_mode": "IMMEDIATE",
            # FULL: a reading that was acknowledged is on the disk, whatever happens to the machine.
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA foreign_keys=ON;PRAGMA busy_timeout=10000;PRAGMA wal_autocheckpoint=4000;",
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
CONTENT_SECURITY_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data: blob:; "
    "connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)

NINJA_PAGINATION_MAX_LIMIT = 1000
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django": {"handlers": ["console"], "level": "WARNING"}},
}
