"""Settings, read from the environment that `start` and `test` prepare; see docs/deploying.md."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parent.parent
FRONTEND_DIST = BASE_DIR / "frontend" / "dist"
LOCALES_DIR = FRONTEND_DIST / "locales"

SECRET_KEY = os.environ["WHEELOMETRON_SECRET_KEY"]
DEBUG = False
ALLOWED_HOSTS = os.environ.get("WHEELOMETRON_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [origin for origin in os.environ.get("WHEELOMETRON_ORIGINS", "").split(",") if origin]
BEHIND_TLS = os.environ.get("WHEELOMETRON_TLS") == "1"
DEMO = os.environ.get("WHEELOMETRON_DEMO") == "1"
DATABASE_FOLDER = os.environ.get("WHEELOMETRON_DB_FOLDER", "")
"""Where the database keeps its files, if on this machine: before its disk is full nothing new is taken any more."""
LAN_ADDRESS = os.environ.get("WHEELOMETRON_LAN", "")
"""Where phones of the local network reach it over TLS; empty where they do not."""
LAN_FOLDER = os.environ.get("WHEELOMETRON_LAN_FOLDER", "")
TRUSTED_PROXY = os.environ.get("WHEELOMETRON_PROXY", "")
"""Address of the proxy that says where a request comes from and whether it came over TLS; empty without one."""

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "ninja",
    "procrastinate.contrib.django",
    "workshop",
]
MIDDLEWARE = [
    "csp.middleware.CSPMiddleware",
    "api.headers.HeadersMiddleware",
    "api.limits.LimitsMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "api.repeats.RepeatsMiddleware",
    "api.texts.TextsMiddleware",
]
ROOT_URLCONF = "wheelometron.urls"
TEMPLATES = [
    {"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [BASE_DIR / "wheelometron" / "templates"]}
]
WSGI_APPLICATION = "wheelometron.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": os.environ.get("WHEELOMETRON_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("WHEELOMETRON_DB_PORT", "5432"),
        "NAME": os.environ.get("WHEELOMETRON_DB_NAME", "wheelometron"),
        "USER": os.environ.get("WHEELOMETRON_DB_USER", "wheelometron"),
        "PASSWORD": os.environ.get("WHEELOMETRON_DB_PASSWORD", ""),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"connect_timeout": 5},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator", "CommonPasswordValidator")
]
AXES_FAILURE_LIMIT = 8
MOST_FAILURES_OF_AN_ADDRESS = 40
"""Within the same time, across all names: a workshop may share an address."""
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "api.problems.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_TLS
SESSION_COOKIE_NAME = "__Host-sessionid" if BEHIND_TLS else "sessionid"
CSRF_COOKIE_NAME = "__Host-csrftoken" if BEHIND_TLS else "csrftoken"
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 30 if BEHIND_TLS else 0
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
LARGEST_BODY_BYTES = 400_000
"""Of any request. The largest valid document has some 120 kB as JSON; with indentation and escapes it stays below."""
LARGEST_TIMELINE_LETTERS = 1_000_000
LARGEST_TIMELINE_BYTES = 6 * LARGEST_TIMELINE_LETTERS + 1000
"""Of a timeline that is brought in: a letter has six bytes at most, where it is escaped."""
LARGEST_PIECE_BYTES = 1_000_000
"""Of a file that is sent in pieces: the slowest line sends one within the time of a request."""
LARGEST_RECORDING_BYTES = 250_000_000
LARGEST_PHOTO_BYTES = 15_000_000
LARGEST_REQUEST_BYTES = max(LARGEST_BODY_BYTES, LARGEST_PIECE_BYTES, LARGEST_PHOTO_BYTES) + 1
DATA_UPLOAD_MAX_MEMORY_SIZE = LARGEST_REQUEST_BYTES
PROCRASTINATE_AUTODISCOVER_MODULE_NAME = "work"

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
WHITENOISE_ROOT = FRONTEND_DIST if FRONTEND_DIST.is_dir() else None
EMPTY_STYLE = "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='"
"""The hash of nothing: styles are added by script to an element that is empty. No other text is a style of the page."""
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "style-src": [SELF, EMPTY_STYLE],
        "img-src": [SELF, "data:", "blob:"],
        "object-src": [NONE],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
        "form-action": [SELF],
    }
}


def page_headers(headers: Any, path: str, url: str) -> None:
    """The page itself, fetched as a file to be kept on the device, is in nobody's frame either."""
    if path.endswith(".html"):
        headers["X-Frame-Options"] = "DENY"


WHITENOISE_ADD_HEADERS_FUNCTION = page_headers
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+$"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # documents on the running bench, each with its evaluation: twenty pictures a second need them read only once
    "bench": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "LOCATION": "bench",
        "TIMEOUT": 600,
        "OPTIONS": {"MAX_ENTRIES": 100},
    },
}
