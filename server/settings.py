"""Settings. Everything that differs between machines comes from WENDRICK_… variables."""

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("WENDRICK_DATA", ROOT / "var"))
DATA.mkdir(parents=True, exist_ok=True)
RESULTS = DATA / "runs"
PHOTOS = DATA / "photos"
CLIMATES = Path(os.environ.setdefault("WENDRICK_CLIMATES", str(DATA / "climates")))
TEST_RUNNER = "server.tests.runner.Runner"


def _secret() -> str:
    """The signing key: from the environment, or made once and kept readable by its owner only."""
    if "WENDRICK_SECRET_KEY" in os.environ:
        return os.environ["WENDRICK_SECRET_KEY"]
    path = DATA / "secret_key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("WENDRICK_HOSTS", "127.0.0.1,localhost,testserver").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "server.projects.apps.ProjectsConfig",
    "server.survey.apps.SurveyConfig",
    "server.runs.apps.RunsConfig",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": os.environ.get("WENDRICK_DATABASE", DATA / "wendrick.sqlite3"),
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
        # a file: the live-server tests and the job runner open it from several processes
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [{"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"}]
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True
STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None
WHITENOISE_INDEX_FILE = False
LARGEST_IMPORT = int(os.environ.get("WENDRICK_LARGEST_IMPORT", 500 * 1024 * 1024))
LARGEST_PHOTO = int(os.environ.get("WENDRICK_LARGEST_PHOTO", 30 * 1024 * 1024))
LARGEST_PROJECT_JSON = int(os.environ.get("WENDRICK_LARGEST_PROJECT_JSON", 100 * 1024 * 1024))
DATA_UPLOAD_MAX_MEMORY_SIZE = 40 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
# A running Dask scheduler (tcp://host:port) whose workers compute; empty: a local cluster of WORKERS processes.
SCHEDULER = os.environ.get("WENDRICK_SCHEDULER", "")
WORKERS = int(os.environ.get("WENDRICK_WORKERS", 2))
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    # refusals (4xx) are answers, not faults
    "loggers": {"django.request": {"level": "ERROR"}, "django.security": {"level": "ERROR"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
