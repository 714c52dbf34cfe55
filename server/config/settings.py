"""Django's settings. `GEDULD_DATA` names the folder that holds the database and the secret key."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("GEDULD_DATA", ROOT / "data"))
DATA.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    path = DATA / "secret-key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("GEDULD_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
ROOT_URLCONF = "server.config.urls"
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "rest_framework",
    "drf_spectacular",
    "server.accounts",
    "server.shelf",
    "server.exercises",
    "server.marks",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "server.config.pages.ContentPolicy",
]
TEMPLATES: list[dict[str, object]] = []
DATABASE_OPTIONS = {
    "timeout": 20,
    "transaction_mode": "IMMEDIATE",
    "init_command": "PRAGMA journal_mode=WAL; PRAGMA foreign_keys=ON; PRAGMA synchronous=NORMAL;",
}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "geduld.sqlite3",
        "OPTIONS": DATABASE_OPTIONS,
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
WHITENOISE_ROOT = WEB_DIST
WHITENOISE_MAX_AGE = 0
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/"  # their names hold a hash of what they hold
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
MOST_TRACE_BYTES = 60_000_000
GRADING_SCHEDULER = os.environ.get("GEDULD_SCHEDULER", "")
JOBS_INLINE = False  # long work in the request itself: for tests inside one transaction
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.config.parsers.Json", "rest_framework.parsers.MultiPartParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "server.config.problems.handle",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Geduld",
    "VERSION": "0.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rest_framework.permissions.IsAuthenticated"],
    "ENUM_GENERATE_CHOICE_DESCRIPTION": False,
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"plain": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "plain"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"geduld": {"level": "INFO"}, "server": {"level": "INFO"}},
}
