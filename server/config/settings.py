"""Django's settings. `GEDULD_DATA` names the folder that holds the database and the secret key."""

from __future__ import annotations

import os
from pathlib import Path

from server.serving.folder import DATABASE, prepared, secret_key

ROOT = Path(__file__).resolve().parents[2]
DATA = prepared(Path(os.environ.get("GEDULD_DATA") or ROOT / "data"))
SECRET_KEY = secret_key(DATA)
DEBUG = False
ALLOWED_HOSTS = os.environ.get("GEDULD_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
BEHIND_TLS = bool(os.environ.get("GEDULD_TLS"))
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_TLS
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365 if BEHIND_TLS else 0
SECURE_REFERRER_POLICY = "same-origin"
ROOT_URLCONF = "server.config.urls"
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "rest_framework",
    "drf_spectacular",
    "server.accounts",
    "server.shelf",
    "server.recordings",
    "server.rigs",
    "server.live",
    "server.exercises",
    "server.marks",
    "server.classes",
    "server.sharing",
]
MIDDLEWARE = [
    "server.config.pages.ContentPolicy",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "server.config.pages.NoBodyForHead",
]
TEMPLATES: list[dict[str, object]] = []
DATABASE_OPTIONS = {
    "timeout": 20,
    "transaction_mode": "IMMEDIATE",
    "init_command": (
        "PRAGMA journal_mode=WAL; PRAGMA foreign_keys=ON; PRAGMA synchronous=NORMAL; "
        "PRAGMA journal_size_limit=64000000;"
    ),
}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / DATABASE,
        "CONN_MAX_AGE": None,  # each of the server's threads keeps its own: opening one costs more than a small answer
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
LOGIN_URL = "/sign-in"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}", "OPTIONS": options}
    for name, options in (
        ("UserAttributeSimilarityValidator", {}),
        ("MinimumLengthValidator", {"min_length": 10}),
        ("CommonPasswordValidator", {}),
        ("NumericPasswordValidator", {}),
    )
]
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
DATA_UPLOAD_MAX_NUMBER_FILES = MOST_FILES_AT_ONCE = 600
MOST_TRACE_BYTES = 60_000_000
GRADING_SCHEDULER = os.environ.get("GEDULD_SCHEDULER", "")
JOBS_INLINE = False  # long work in the request itself: for tests inside one transaction
WORK_INLINE = False  # runs in the serving process, so that tests can look into them
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.config.parsers.Json", "rest_framework.parsers.MultiPartParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "server.config.problems.handle",
    "DEFAULT_PAGINATION_CLASS": "server.config.rows.Pages",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Geduld",
    "VERSION": "0.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rest_framework.permissions.IsAuthenticated"],
    "ENUM_GENERATE_CHOICE_DESCRIPTION": False,
    "ENUM_NAME_OVERRIDES": {
        "PartRole": ["output", "sensor"],
        "VerdictWord": "server.shelf.answers.VERDICTS",
        "LanguageWord": "geduld.readers.reading.LANGUAGES",
        "WordbookLanguage": "geduld.wordbook.tree.LANGUAGES",
        "ShelfKind": "server.shelf.tidying.KIND_WORDS",
        "FoundKind": "server.finding.views.FOUND_WORDS",
    },
    "OAS_VERSION": "3.1.0",
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "server.config.schema.with_problems",
        "server.config.schema.answers_are_whole",
    ],
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"plain": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "plain"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"geduld": {"level": "INFO"}, "server": {"level": "INFO"}},
}
