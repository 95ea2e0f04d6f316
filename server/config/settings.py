"""Settings. What differs between machines comes from the environment, which `./nest` sets."""

import os
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
sys.path[:0] = [p for p in (str(ROOT / "core"), str(ROOT)) if p not in sys.path]

HOME = Path(os.environ.get("NEST_HOME", "/tmp/nest-line"))
"""Where the application keeps what is not in the database: its secret, pictures, thumbnails."""

DEBUG = False
SECRET_KEY = os.environ.get("NEST_SECRET", "only-for-tests-on-loopback")
ALLOWED_HOSTS = os.environ.get("NEST_HOSTS", "127.0.0.1,localhost,[::1],testserver").split(",")

LIVE_PORT = os.environ.get("NEST_LIVE_PORT", "")
"""The port of the live process (config.live); none where a balancer brings /live/ to it under the same address."""

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "documents",
    "assets",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES: list[dict] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("NEST_DB_NAME", "nestline"),
        "USER": os.environ.get("NEST_DB_USER", "nestline"),
        "PASSWORD": os.environ.get("NEST_DB_PASSWORD", ""),
        "HOST": "127.0.0.1",
        "PORT": os.environ.get("NEST_DB_PORT", "5432"),
        "CONN_MAX_AGE": 600,
        "CONN_HEALTH_CHECKS": False,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTHENTICATION_BACKENDS = ["documents.signing.Backend"]
AUTH_PASSWORD_VALIDATORS = [{"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"}]
SESSION_ENGINE = "django.contrib.sessions.backends.signed_cookies"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

STATIC_URL = "/static/"
STATIC_ROOT = None
WEB_DIST = ROOT / "web" / "dist"
DICTIONARIES = ROOT / "web" / "node_modules"
"""Where the packages with Hunspell dictionaries lie."""
FONT_FILES = ROOT / "core" / "nestline" / "fonts" / "shipped"
STATICFILES_DIRS = [("fonts", FONT_FILES), *([("web", WEB_DIST)] if WEB_DIST.is_dir() else [])]
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/(web/assets|fonts)/"

MEDIA_ROOT = HOME / "media"
DATA_UPLOAD_MAX_MEMORY_SIZE = 64_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 5_000_000

TEST_RUNNER = "config.runner.Runner"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "nestline": {"handlers": ["console"], "level": "INFO", "propagate": False},
    },
}
