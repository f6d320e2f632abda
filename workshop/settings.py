"""Settings, all of them from environment variables with safe defaults.

| variable | meaning |
| --- | --- |
| MOSAIC_SECRET_KEY | required unless MOSAIC_DEBUG is 1 |
| MOSAIC_DEBUG | 1 for development |
| MOSAIC_HOSTS | host names served, comma-separated |
| MOSAIC_HTTPS | 1 where the service is reached over HTTPS: secure cookies, HSTS, redirect |
| MOSAIC_PROXY | address of the proxy in front, whose X-Forwarded-For and -Proto are heeded; nobody else's are |
| MOSAIC_DB_NAME, _USER, _PASSWORD, _SOCKET or _HOST and _PORT | the MariaDB database |
| MOSAIC_CACHE | a Redis address for many machines; local memory if empty |
| MOSAIC_TASK_BACKEND | dotted name of another task backend (django_tasks_rq.RQBackend, say) |
| MOSAIC_QUEUE | a Redis address for the queue of such a backend |
| MOSAIC_DATA | a folder on the disk of the database, where that is this machine's: a full one refuses what would be stored |
| MOSAIC_FEED_PORT | where live feeds are listened for, on loopback |
| MOSAIC_LINE_PORT | where programs for serial panels are listened for, on loopback |
| MOSAIC_DEMO | 1 offers the demo sign-in |
"""

import os
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE

from workshop.stations import STATIONS

BASE_DIR = Path(__file__).resolve().parent.parent


def _flag(name: str) -> bool:
    return os.environ.get(name, "") == "1"


DEBUG = _flag("MOSAIC_DEBUG")
SECRET_KEY = os.environ.get("MOSAIC_SECRET_KEY") or ("development-only" if DEBUG else "")
ALLOWED_HOSTS = [h for h in os.environ.get("MOSAIC_HOSTS", "127.0.0.1,localhost").split(",") if h]
HTTPS = _flag("MOSAIC_HTTPS")
OFFER_DEMO = _flag("MOSAIC_DEMO")
DEMO_USERNAME = "saltmarsh"
DEMO_HANDS_OVER = True
"""Whether the demo has hand-overs made of some of its builds, by the worker."""
DATA_FOLDER = os.environ.get("MOSAIC_DATA", "")
FEED_PORT = int(os.environ.get("MOSAIC_FEED_PORT", "8413"))
LINE_PORT = int(os.environ.get("MOSAIC_LINE_PORT", "8414"))

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "django_htmx",
    "crispy_forms",
    "crispy_bootstrap5",
    "csp",
    "axes",
    "django_tasks",
    "django_tasks_db",
    "workshop.look",
    "workshop.accounts",
    "workshop.documents",
    "workshop.panels",
    "workshop.builds",
    "workshop.journal",
    "workshop.jobs",
    *STATIONS,
    "workshop.stations",
    "workshop.home",
    "workshop.desk",
    "workshop.demo",
    "workshop.serving",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "workshop.accounts.private.PrivateMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "workshop.accounts.ended.SessionMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "workshop.room.RoomMiddleware",
    "workshop.accounts.twice.TwiceMiddleware",
    "workshop.errors.CoreErrorMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "workshop.urls"
WSGI_APPLICATION = "workshop.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "workshop" / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "workshop.stations.way_back.way_back",
            ],
            "builtins": ["workshop.look.templatetags.look"],
        },
    }
]
CRISPY_ALLOWED_TEMPLATE_PACKS = "bootstrap5"
CRISPY_TEMPLATE_PACK = "bootstrap5"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": os.environ.get("MOSAIC_DB_NAME", "mosaic"),
        "USER": os.environ.get("MOSAIC_DB_USER", "mosaic"),
        "PASSWORD": os.environ.get("MOSAIC_DB_PASSWORD", ""),
        "HOST": os.environ.get("MOSAIC_DB_SOCKET") or os.environ.get("MOSAIC_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("MOSAIC_DB_PORT", ""),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "init_command": "SET sql_mode='STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION', SESSION innodb_lock_wait_timeout=10",
            "isolation_level": "read committed",
        },
        "TEST": {"CHARSET": "utf8mb4", "COLLATION": "utf8mb4_bin"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

_CACHE_ADDRESS = os.environ.get("MOSAIC_CACHE", "")
CACHES = {
    "default": (
        {"BACKEND": "django.core.cache.backends.redis.RedisCache", "LOCATION": _CACHE_ADDRESS}
        if _CACHE_ADDRESS
        else {"BACKEND": "django.core.cache.backends.locmem.LocMemCache", "OPTIONS": {"MAX_ENTRIES": 2000}}
    )
}
TASKS = {"default": {"BACKEND": os.environ.get("MOSAIC_TASK_BACKEND", "django_tasks_db.DatabaseBackend")}}
if os.environ.get("MOSAIC_QUEUE"):
    INSTALLED_APPS += ["django_rq"]
    RQ_QUEUES = {"default": {"URL": os.environ["MOSAIC_QUEUE"], "DEFAULT_TIMEOUT": 3600}}

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator", "CommonPasswordValidator")
]
CSRF_FAILURE_VIEW = "workshop.accounts.ended.refused_as_forged"
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "workshop"
LOGOUT_REDIRECT_URL = "sign-in"
SESSION_ENGINE = "django.contrib.sessions.backends.db"  # several processes serve: none may know an older session
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25  # hours
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "accounts/locked_out.html"
AXES_ENABLE_ADMIN = False

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "staticfiles"
STATICFILES_DIRS = [BASE_DIR / "workshop" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage" if DEBUG else "workshop.look.storage.StaticStorage"
    },
}

# A picture may have 24 MiB; the page refuses more before sending, and the service in words after.
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 32 * 1024 * 1024

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        # Bars, swatches and the split are drawn by values in style attributes; no style sheet is inline.
        "style-src-attr": [UNSAFE_INLINE],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 31536000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = HTTPS
PROXY = os.environ.get("MOSAIC_PROXY", "")
"""Heeded by the web server itself, which tells the application the address and the scheme of the client."""

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
