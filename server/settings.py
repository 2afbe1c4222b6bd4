"""Settings. Everything that differs between machines comes from WENDRICK_… variables."""

import os
import secrets
from contextlib import suppress
from datetime import timedelta
from pathlib import Path

from server.policy import with_policy

ROOT = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("WENDRICK_DATA", ROOT / "var"))
DATA.mkdir(mode=0o700, parents=True, exist_ok=True)
if DATA == ROOT / "var" or (DATA / "wendrick.sqlite3").exists():  # ours: nobody else's folder is touched
    with suppress(OSError):  # read-only: said when something is to be written
        DATA.chmod(0o700)
RESULTS = DATA / "runs"
PHOTOS = DATA / "photos"
REPORTS = DATA / "reports"
DOCUMENTS = DATA / "documents"
CLIMATES = Path(os.environ.setdefault("WENDRICK_CLIMATES", str(DATA / "climates")))
TEST_RUNNER = "server.tests.runner.Runner"


def _secret() -> str:
    """The signing key: from the environment, or made once and kept readable by its owner only."""
    if "WENDRICK_SECRET_KEY" in os.environ:
        return os.environ["WENDRICK_SECRET_KEY"]
    path = DATA / "secret_key"
    if not path.exists() or not path.read_text().strip():  # a disk that was full left an empty one
        made = path.with_suffix(f".{os.getpid()}.tmp")
        made.touch(mode=0o600)
        made.write_text(secrets.token_urlsafe(50))
        made.replace(path)
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("WENDRICK_HOSTS", "127.0.0.1,localhost,testserver").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "qsessions",
    "axes",
    "server.accounts.apps.AccountsConfig",
    "server.projects.apps.ProjectsConfig",
    "server.library.apps.LibraryConfig",
    "server.survey.apps.SurveyConfig",
    "server.runs.apps.RunsConfig",
    "server.schemes.apps.SchemesConfig",
    "server.options.apps.OptionsConfig",
    "server.exchange.apps.ExchangeConfig",
    "server.dossier.apps.DossierConfig",
    "demo.apps.DemoConfig",
]
MIDDLEWARE = [
    "server.accounts.doors.BehindProxies",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "qsessions.middleware.SessionMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "server.front.FrontDoor",
    "server.library.doors.OnesOwn",
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
        "TEST": {"NAME": DATA / os.environ.get("WENDRICK_TEST_DATABASE", "test.sqlite3")},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
_RULES = "django.contrib.auth.password_validation"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_RULES}.UserAttributeSimilarityValidator"},
    {"NAME": f"{_RULES}.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": f"{_RULES}.CommonPasswordValidator"},
    {"NAME": f"{_RULES}.NumericPasswordValidator"},
]
# After eight wrong passwords for one name from one address, that pair waits; nobody else is kept out by it.
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_WHITELIST_CALLABLE = "server.accounts.doors.known_device"
# One name from many addresses, one address with many names: more of each, for an office has one address.
MOST_TRIES_OF_A_NAME, MOST_TRIES_OF_AN_ADDRESS = 40, 80
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_ENABLE_ACCESS_FAILURE_LOG = False
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
SILENCED_SYSTEM_CHECKS = ["axes.W002"]  # its middleware answers with a page; ours answers with a problem
SESSION_ENGINE = "qsessions.backends.db"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
# Behind a proxy that speaks TLS and sets X-Forwarded-Proto; see docs/operating.md.
HTTPS = os.environ.get("WENDRICK_HTTPS") == "1"
PROXIES = int(os.environ.get("WENDRICK_PROXIES", 0))  # how many stand in front of it, each adding to X-Forwarded-For
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if HTTPS else 0
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS] if HTTPS else []
LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True
STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_ADD_HEADERS_FUNCTION = with_policy
LARGEST_IMPORT = int(os.environ.get("WENDRICK_LARGEST_IMPORT", 500 * 1024 * 1024))
LARGEST_DOCUMENT = int(os.environ.get("WENDRICK_LARGEST_DOCUMENT", 20 * 1024 * 1024))
LARGEST_PHOTO = int(os.environ.get("WENDRICK_LARGEST_PHOTO", 30 * 1024 * 1024))
LARGEST_PROJECT_JSON = int(os.environ.get("WENDRICK_LARGEST_PROJECT_JSON", 10 * 1024 * 1024))
LARGEST_CLIMATE = int(os.environ.get("WENDRICK_LARGEST_CLIMATE", 8 * 1024 * 1024))
LARGEST_BODY = 4 * 1024 * 1024  # of any other request
DATA_UPLOAD_MAX_MEMORY_SIZE = LARGEST_BODY
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
# The simulated gauge and the made-up price list that ship: for looking at the program and its tests, not for anybody's work.
STAND_INS = os.environ.get("WENDRICK_STAND_INS") == "1"
# A running Dask scheduler (tcp://host:port) whose workers compute; empty: a local cluster of WORKERS processes.
SCHEDULER = os.environ.get("WENDRICK_SCHEDULER", "")
SCHEDULER_TLS = {name: os.environ.get(f"WENDRICK_SCHEDULER_{name.upper()}", "") for name in ("ca", "cert", "key")}
# Results on disk, in bytes; the oldest that no page draws go first. 0: no limit.
RESULTS_LIMIT = int(float(os.environ.get("WENDRICK_RESULTS_GB", 20)) * 1024**3)
WORKERS = int(os.environ.get("WENDRICK_WORKERS", 2))
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    # refusals (4xx) are answers, not faults
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security": {"level": "ERROR"},
        "axes": {"level": "ERROR"},
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
}
