"""Settings: production by default; the environment only loosens what it names."""

import os
from pathlib import Path
from typing import Any

from csp.constants import NONE, SELF
from django.core.management.utils import get_random_secret_key

ROOT = Path(__file__).resolve().parents[3]
DATA_DIR = Path(os.environ.get("KILN_DATA_DIR", ROOT / "var"))
DATA_DIR.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    """Read the key, made on first run and kept beside the data, never in git."""
    path = DATA_DIR / "secret_key"
    if not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(get_random_secret_key())
    return path.read_text().strip()


SECRET_KEY = _secret_key()
DEBUG = os.environ.get("KILN_DEBUG") == "1"
DEMO = os.environ.get("KILN_DEMO") == "1"
HTTPS = os.environ.get("KILN_HTTPS") == "1"
ALLOWED_HOSTS = os.environ.get("KILN_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("KILN_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.admin",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "server.apps.shop",
    "server.apps.yard",
    "server.apps.pieces",
    "server.apps.drying",
    "server.apps.lathe",
    "server.apps.demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "server.api.middleware.ProblemShape",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]

# WAL lets readers go on while one writes; FULL puts an acknowledged weight on disk.
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "kiln.sqlite3",
        "OPTIONS": {
            "timeout": 5,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": str(DATA_DIR / "test.sqlite3")},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_CALLABLE = "server.api.auth.locked_out"
AXES_RESET_ON_SUCCESS = True

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True
USE_I18N = False

STATIC_URL = "/static/"
STATIC_ROOT = ROOT / "static"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_ALLOW_ALL_ORIGINS = False


def _is_hashed(path: str, url: str) -> bool:
    """Vite puts a content hash into the name of everything under assets."""
    return "/assets/" in url


WHITENOISE_IMMUTABLE_FILE_TEST = _is_hashed


def _worker_headers(headers: Any, path: str, url: str) -> None:
    """Let the service worker look after the whole app, and be asked for anew each time."""
    if url == f"{STATIC_URL}sw.js":
        headers["Service-Worker-Allowed"] = "/"
        headers["Cache-Control"] = "no-cache"


WHITENOISE_ADD_HEADERS_FUNCTION = _worker_headers

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "object-src": [NONE],
        "frame-ancestors": [NONE],
    }
}
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 60
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SECURE_SSL_REDIRECT = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 30 if HTTPS else 0
# A table of a year of readings and a picture fit; anything larger is refused in words.
DATA_UPLOAD_MAX_MEMORY_SIZE = 14_000_000

# Plain HTTP on loopback is how a workshop laptop runs it; KILN_HTTPS=1 turns the rest on.
SILENCED_SYSTEM_CHECKS = [] if HTTPS else ["security.W004", "security.W008", "security.W012", "security.W016"]

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
