"""Settings. Secrets and the database's port come from the environment that scripts/prepare.sh sets up.

``SUNDIAL_MODE=production`` means: behind HTTPS. Without it the application serves one person on loopback over HTTP,
so only what needs HTTPS (secure cookies, HSTS, redirect) is left off.
"""

import logging
import os
from pathlib import Path

from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("SUNDIAL_VAR", BASE_DIR / "var"))
PRODUCTION = os.environ.get("SUNDIAL_MODE") == "production"
DEMO = os.environ.get("SUNDIAL_DEMO", "0") == "1"

SECRET_KEY = os.environ["SUNDIAL_SECRET_KEY"]
DEBUG = False
ALLOWED_HOSTS = os.environ.get("SUNDIAL_HOSTS", "127.0.0.1,localhost,[::1]").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django_htmx",
    "axes",
    "csp",
    "web.accounts.apps.AccountsConfig",
    "web.jobs",
    "web.builds",
    "web.place",
    "web.shade",
    "web.frame",
    "web.tilt",
    "web.worth",
    "web.wind",
    "web.cutting",
    "web.log",
    "web.devices",
    "web.trials",
    "web.why",
    "web.bench",
]

MIDDLEWARE = [
    "web.middleware.TrustedProxyMiddleware",
    "web.middleware.RequestLogMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",  # its random padding hides lengths; the form token is masked anew each time
    "csp.middleware.CSPMiddleware",
    "web.middleware.DatabaseAwayMiddleware",
    "web.middleware.UploadLimitMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "web.middleware.FairShareMiddleware",
    "web.seats.SeatMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "web.middleware.RefusalMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "web.urls"
WSGI_APPLICATION = "web.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "web" / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "web.builds.context.shell",
            ],
            "builtins": ["web.builds.templatetags.sundial"],
        },
    }
]

# A web process does not wait long for a database that hangs (scripts/gunicorn_settings.py); migrations and workers may.
DATABASE_SECONDS = int(os.environ.get("SUNDIAL_DB_SECONDS", "600"))
LOCK_SECONDS = min(20, max(1, DATABASE_SECONDS - 2))
DATABASE_PORT_FILE = os.environ.get("SUNDIAL_DB_PORT_FILE", "")
DATABASES = {
    "default": {
        "ENGINE": "web.mariadb",
        "NAME": os.environ.get("SUNDIAL_DB", "sundial"),
        "USER": "sundial",
        "PASSWORD": os.environ.get("SUNDIAL_DB_PASSWORD", ""),
        "HOST": "127.0.0.1",
        "PORT": os.environ.get("SUNDIAL_DB_PORT", "33070"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "init_command": f"SET sql_mode='STRICT_TRANS_TABLES', time_zone='+00:00', innodb_lock_wait_timeout={LOCK_SECONDS}",
            "connect_timeout": min(3, max(1, DATABASE_SECONDS - 2)),
            "read_timeout": DATABASE_SECONDS,
            "write_timeout": DATABASE_SECONDS,
        },
        "TEST": {"NAME": os.environ.get("SUNDIAL_TEST_DB", "test_sundial"), "CHARSET": "utf8mb4"},
    }
}
# Redis: broker of long work, and cache of the throttling counters. Without it everything else goes on.
REDIS = os.environ.get("SUNDIAL_REDIS", "redis://127.0.0.1:36379")
CACHES = {
    "default": {
        "BACKEND": "django_redis.cache.RedisCache",
        "LOCATION": f"{REDIS}/{os.environ.get('SUNDIAL_CACHE_DB', '1')}",
        "OPTIONS": {"IGNORE_EXCEPTIONS": True, "SOCKET_CONNECT_TIMEOUT": 0.3, "SOCKET_TIMEOUT": 0.5},
    }
}
CELERY_BROKER_URL = f"{REDIS}/{os.environ.get('SUNDIAL_BROKER_DB', '0')}"
CELERY_BROKER_CONNECTION_RETRY_ON_STARTUP = True
CELERY_BROKER_TRANSPORT_OPTIONS = {
    "visibility_timeout": 1800,  # longer than any hard time limit: what runs is not delivered twice
    "max_retries": 1,
    "interval_start": 0,
    "interval_step": 0.1,
    "socket_connect_timeout": 1,
    "socket_timeout": 5,  # a broker that hangs is given up like one that is away
}
CELERY_TASK_IGNORE_RESULT = True  # the job's row in the database is the truth
CELERY_TASK_ACKS_LATE = True
CELERY_TASK_ALWAYS_EAGER = False
CELERY_WORKER_PREFETCH_MULTIPLIER = 1
CELERY_WORKER_MAX_TASKS_PER_CHILD = 100
CELERY_WORKER_MAX_MEMORY_PER_CHILD = 900_000  # kB: a child that has grown so large is replaced after its job
CELERY_WORKER_HIJACK_ROOT_LOGGER = False
CELERY_TIMEZONE = "UTC"
CELERY_BEAT_SCHEDULE = {
    "tend": {
        "task": "jobs.tend",
        "schedule": min(10.0, float(os.environ.get("SUNDIAL_JOB_STALE", "25")) / 2),
        "options": {"expires": 30},
    },
    "purge": {"task": "jobs.purge", "schedule": 86400.0},
    "visitors": {"task": "jobs.visitors", "schedule": 3600.0},
}
JOB_MEMORY = 3_000_000_000  # bytes that a worker's child may take
JOB_STALE = float(os.environ.get("SUNDIAL_JOB_STALE", "25"))  # seconds without a sign of life: its worker counts as dead

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "web.accounts.backends.NameBackend",
    "django.contrib.auth.backends.ModelBackend",  # sessions that were begun under it
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
LOGIN_URL = "accounts:login"
LOGIN_REDIRECT_URL = "builds:list"
LOGOUT_REDIRECT_URL = "home"
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_TEMPLATE = "accounts/locked.html"
AXES_VERBOSE = False
AXES_USERNAME_CALLABLE = "web.accounts.names.name_in_logs"
AXES_CLIENT_IP_CALLABLE = "web.accounts.throttle.address_of"
# From one address in an hour. Behind TRUSTED_PROXIES the address is the client's own.
FAILED_SIGN_INS_AN_HOUR, SIGN_UPS_AN_HOUR, VISITORS_AN_HOUR, CODES_AN_HOUR = 20, 30, 60, 10
TRUSTED_PROXIES = [
    network for network in os.environ.get("SUNDIAL_PROXIES", "127.0.0.1,::1" if PRODUCTION else "").split(",") if network
]
# Mail: a server where one is named; while developing, files under var/mail; in production without one, none.
MAIL_HOST = os.environ.get("SUNDIAL_MAIL_HOST", "")
MAIL_ON = bool(MAIL_HOST) or not PRODUCTION
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if MAIL_HOST else 'filebased'}.EmailBackend"
EMAIL_HOST, EMAIL_PORT = MAIL_HOST, int(os.environ.get("SUNDIAL_MAIL_PORT", "587"))
EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = os.environ.get("SUNDIAL_MAIL_USER", ""), os.environ.get("SUNDIAL_MAIL_PASSWORD", "")
EMAIL_USE_TLS, EMAIL_TIMEOUT = EMAIL_PORT == 587, 10
EMAIL_FILE_PATH = VAR / "mail"
DEFAULT_FROM_EMAIL = os.environ.get("SUNDIAL_MAIL_FROM", "sundial@localhost")

SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "web.accounts.views.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
if PRODUCTION:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_SSL_REDIRECT = True
    SECURE_REDIRECT_EXEMPT = [r"^healthz$", r"^readyz$"]
    SECURE_HSTS_SECONDS = 31536000
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

BENCH_SETTINGS = 40  # that the bench tries through a year
BENCH_EVERY = 1  # of how many days of the year it plays one
PERSON_SECONDS = 75  # of processor time that one person's requests may take in a minute: more than a core, so several at once
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 400
FILE_UPLOAD_MAX_MEMORY_SIZE = 20_000_000  # uploads never touch the disk
UPLOAD_LIMIT = 16_000_000  # bytes of one request

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False
LANGUAGE_CODE = "en-gb"

STATIC_URL = "static/"
STATIC_ROOT = VAR / "static"
STATICFILES_DIRS = [BASE_DIR / "web" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "web.static_files.ModuleStorage"},
}
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
logging.raiseExceptions = False  # a full disk must not make noise of every line that could not be logged
LOG_FILE = os.environ.get("SUNDIAL_LOG_FILE", "")  # empty: standard error
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "web.logs.JsonFormatter"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler", "formatter": "json"},
        # Reopened when it is rotated away from under us (logrotate needs no signal).
        "file": {"class": "logging.handlers.WatchedFileHandler", "filename": LOG_FILE, "formatter": "json", "delay": True}
        if LOG_FILE
        else {"class": "logging.StreamHandler", "formatter": "json"},
    },
    "loggers": {
        "django.request": {"handlers": ["file"], "level": "ERROR", "propagate": False},
        "web.access": {"handlers": ["file"] if LOG_FILE or PRODUCTION else [], "level": "INFO", "propagate": False},
        "web": {"handlers": ["file"], "level": "WARNING", "propagate": False},
        "axes": {"handlers": ["file"], "level": "WARNING", "propagate": False},  # names and addresses are masked
    },
}
