"""Settings, all from the environment.

TIN_SADDLE_MODE: serve (default), demo (loopback, plain http, demo sign-ins) or test.
DATABASE_URL, SECRET_KEY, ALLOWED_HOSTS (comma-separated), CSRF_TRUSTED_ORIGINS: needed to serve.
docs/operating.md has the others.
"""

import os
import re
import sys
from datetime import timedelta
from pathlib import Path
from urllib.parse import unquote, urlsplit

from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parent.parent.parent
sys.path[:0] = [p for p in (str(ROOT / "core"), str(ROOT / "server"), str(ROOT)) if p not in sys.path]

MODE = os.environ.get("TIN_SADDLE_MODE", "serve")
DEMO, LOCAL = MODE == "demo", MODE in ("demo", "test")


def _needed(name: str, local: str) -> str:
    value = os.environ.get(name) or (local if LOCAL else "")
    if not value:
        raise ImproperlyConfigured(f"set {name} in the environment (or TIN_SADDLE_MODE=demo to try the demo)")
    return value


def _database(url: str) -> dict[str, object]:
    parts = urlsplit(url)
    if parts.scheme not in ("postgres", "postgresql"):
        raise ImproperlyConfigured("DATABASE_URL must start with postgres://")
    return {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": unquote(parts.path.lstrip("/")),
        "USER": unquote(parts.username or ""),
        "PASSWORD": unquote(parts.password or ""),
        "HOST": parts.hostname or "",
        "PORT": str(parts.port or ""),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "TEST": {"NAME": os.environ.get("TIN_SADDLE_TEST_DB")},
    }


DEBUG = False
SECRET_KEY = _needed("SECRET_KEY", "only-for-demo-and-tests-" + "x" * 40)
DATABASES = {"default": _database(_needed("DATABASE_URL", "postgres://app@127.0.0.1:54329/tin_saddle"))}
ALLOWED_HOSTS = _needed("ALLOWED_HOSTS", "127.0.0.1,localhost,testserver").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("CSRF_TRUSTED_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "ninja",
    "procrastinate.contrib.django",
    "accounts",
    "projects",
    "design",
    "survey",
    "alignment",
    "guides",
    "jobs",
    "road",
    "output",
    "drawings",
    "lines",
    "library",
    "presence",
    "crossfalls",
    "levels",
    "treatments",
    "releases",
]
MIDDLEWARE = [
    "config.logs.RequestLog",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "config.middleware.LimitRequestSize",
    "config.middleware.CleanText",
    "config.middleware.KeepNoAnswers",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "accounts.sessions.IdleLimit",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "front.urls"
WSGI_APPLICATION = "front.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
_RULES = ("UserAttributeSimilarity", "MinimumLength", "CommonPassword", "NumericPassword")
AUTH_PASSWORD_VALIDATORS = [{"NAME": f"django.contrib.auth.password_validation.{rule}Validator"} for rule in _RULES]
PASSWORD_RESET_TIMEOUT = 4 * 3600

#: Proxies of our own before the server: so many of the addresses in X-Forwarded-For are believed.
PROXIES = int(os.environ.get("PROXIES", "0" if LOCAL else "1"))
#: Somebody who guesses at a password is turned away, by name and address together.
AXES_FAILURE_LIMIT, AXES_COOLOFF_TIME, AXES_RESET_ON_SUCCESS = 10, timedelta(minutes=15), True
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "accounts.throttle.locked_out"
AXES_CLIENT_IP_CALLABLE = "accounts.sessions.address_of"
AXES_ENABLE_ACCESS_FAILURE_LOG = True
AXES_VERBOSE = False
#: Who does nothing for so long is signed out.
IDLE_LIMIT = timedelta(minutes=float(os.environ.get("IDLE_MINUTES", "720")))
DEMO_NAMES = ("designer", "checker", "viewer")
if MODE == "test":
    TEST_RUNNER = "config.testing.Runner"
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

USE_TZ, TIME_ZONE, LANGUAGE_CODE = True, "UTC", "en"

#: Largest upload, bytes. The web says so before it sends; the middleware refuses what is larger.
UPLOAD_LIMIT = 80 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 20 * 1024 * 1024

#: What the process may keep of computed results, bytes.
CACHE_BYTES = int(os.environ.get("CACHE_MB", "1500")) * 1024 * 1024

WEB_DIST = ROOT / "web" / "dist"
STATIC_URL = "/static/"
#: Each version of the web application has a folder of its own, so that building one disturbs none that runs (bin/lib.sh).
STATIC_ROOT = Path(os.environ.get("STATIC_ROOT", ROOT / ".local" / "static" / "now"))
STATIC_ROOT.mkdir(parents=True, exist_ok=True)
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_USE_FINDERS = MODE == "test"


def _hashed(path: str, url: str) -> bool:
    return re.search(r"/assets/.+-[A-Za-z0-9_-]{8}\.\w+$", url) is not None


WHITENOISE_IMMUTABLE_FILE_TEST = _hashed

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
# Styles are written by the components at run time; scripts come from files alone.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "script-src": ["'self'"],
        "style-src": ["'self'", "'unsafe-inline'"],
        "img-src": ["'self'", "data:", "blob:"],
        "font-src": ["'self'", "data:"],
        "connect-src": ["'self'"],
        "object-src": ["'none'"],
        "base-uri": ["'self'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}

#: Mail: into the log unless a server is named.
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if os.environ.get('EMAIL_HOST') else 'console'}.EmailBackend"
EMAIL_HOST, EMAIL_PORT = os.environ.get("EMAIL_HOST", ""), int(os.environ.get("EMAIL_PORT", "587"))
EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = os.environ.get("EMAIL_USER", ""), os.environ.get("EMAIL_PASSWORD", "")
EMAIL_USE_TLS = EMAIL_PORT == 587
DEFAULT_FROM_EMAIL = os.environ.get("EMAIL_FROM", "tin-saddle@localhost")
METRICS_TOKEN = os.environ.get("METRICS_TOKEN", "")
SECURE_REFERRER_POLICY = "same-origin"
if not LOCAL:
    SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_HSTS_SECONDS = 31_536_000
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = True

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"ids": {"()": "config.logs.WithIds"}},
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "fmt": "%(asctime)s %(levelname)s %(name)s %(message)s %(request_id)s %(job_id)s",
            "rename_fields": {"asctime": "time", "levelname": "level", "name": "logger"},
        }
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["ids"], "formatter": "json"}},
    "loggers": {
        "django.request": {"level": "CRITICAL"},  # config.logs tells of every request
        "django.security": {"level": "CRITICAL" if MODE == "test" else "WARNING"},
        "tin_saddle": {"level": "CRITICAL" if MODE == "test" else "INFO"},
        "axes": {"level": "CRITICAL" if MODE == "test" else "WARNING"},
    },
    "root": {"handlers": ["console"], "level": os.environ.get("LOG_LEVEL", "ERROR" if MODE == "test" else "WARNING")},
}

#: What fills a project with the demo road: called with the project and the person.
DEMO_ROAD = "demo.load.fill"
