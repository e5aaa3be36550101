"""Settings. Secrets and the database's port come from the environment that scripts/prepare.sh sets up.

``SUNDIAL_MODE=production`` means: behind HTTPS. Without it the application serves one person on loopback over HTTP,
so only what needs HTTPS (secure cookies, HSTS, redirect) is left off.
"""

import os
from pathlib import Path

from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parent.parent
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
    "web.accounts",
    "web.jobs",
    "web.builds",
    "web.place",
    "web.shade",
    "web.frame",
    "web.tilt",
    "web.worth",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "web.middleware.DatabaseAwayMiddleware",
    "web.middleware.UploadLimitMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "web.middleware.FairShareMiddleware",
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

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": os.environ.get("SUNDIAL_DB", "sundial"),
        "USER": "sundial",
        "PASSWORD": os.environ.get("SUNDIAL_DB_PASSWORD", ""),
        "HOST": "127.0.0.1",
        "PORT": os.environ.get("SUNDIAL_DB_PORT", "33070"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"charset": "utf8mb4", "init_command": "SET sql_mode='STRICT_TRANS_TABLES'", "connect_timeout": 5},
        "TEST": {"NAME": os.environ.get("SUNDIAL_TEST_DB", "test_sundial"), "CHARSET": "utf8mb4"},
    }
}
# Redis: broker of long work, and cache of the throttling counters. Without it everything else goes on.
REDIS = os.environ.get("SUNDIAL_REDIS", "redis://127.0.0.1:36379")
CACHES = {
    "default": {
        "BACKEND": "django_redis.cache.RedisCache",
        "LOCATION": f"{REDIS}/1",
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
}
JOB_MEMORY = 3_000_000_000  # bytes that a worker's child may take
JOB_STALE = float(os.environ.get("SUNDIAL_JOB_STALE", "25"))  # seconds without a sign of life: its worker counts as dead

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
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

PERSON_SECONDS = 75  # of processor time that one person's requests may take in a minute: more than a core, so several at once
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 400
FILE_UPLOAD_MAX_MEMORY_SIZE = 20_000_000
UPLOAD_LIMIT = 16_000_000  # bytes of one request

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False
LANGUAGE_CODE = "en-gb"

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "var" / "static"
STATICFILES_DIRS = [BASE_DIR / "web" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "web.static_files.ModuleStorage"},
}
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
