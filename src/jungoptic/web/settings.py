"""Django's settings, filled from `config`. Nothing else reads the environment."""

from __future__ import annotations

import datetime
from typing import Any

from .config import CONFIG

SECRET_KEY = CONFIG.secret_key
DEBUG = CONFIG.debug
ALLOWED_HOSTS = list(CONFIG.allowed_hosts)
CSRF_TRUSTED_ORIGINS = list(CONFIG.trusted_origins)

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "django_vite",
    "ninja",
    "procrastinate.contrib.django",
    "axes",
    "jungoptic.web",
    "jungoptic.web.journal",
    "jungoptic.web.kept",
    "jungoptic.web.accounts",
    "jungoptic.web.productions",
    "jungoptic.web.kit",
    "jungoptic.web.plans",
    "jungoptic.web.frames",
    "jungoptic.web.takes",
    "jungoptic.web.breakdown",
    "jungoptic.web.sketches",
    "jungoptic.web.jobs",
    "jungoptic.web.developed",
    "jungoptic.web.pictures",
    "jungoptic.web.blocks",
    "jungoptic.web.rough",
]

MIDDLEWARE = [
    "jungoptic.web.logs.written_down",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "jungoptic.web.middleware.refuse_oversize",
    "jungoptic.web.middleware.json_only",
    "jungoptic.web.middleware.content_security",
    "jungoptic.web.middleware.compressed",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]

ROOT_URLCONF = "jungoptic.web.urls"
WSGI_APPLICATION = "jungoptic.web.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": ["django.template.context_processors.request"]},
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": CONFIG.database_host,
        "PORT": CONFIG.database_port,
        "NAME": CONFIG.database_name,
        "USER": CONFIG.database_user,
        "PASSWORD": CONFIG.database_password,
        # A server with many threads shares some connections; anything else keeps its own. Without a
        # database everybody is told so soon (503), long before threads run out.
        **(
            {"OPTIONS": {"pool": {"min_size": 1, "max_size": CONFIG.database_pool, "timeout": 5}}}
            if CONFIG.database_pool
            else {"CONN_MAX_AGE": 60}
        ),
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Counted for all processes together.
    "shared": {
        "BACKEND": "django.core.cache.backends.db.DatabaseCache",
        "LOCATION": "shared_cache",
    },
}

AUTH_USER_MODEL = "accounts.User"
AUTH_PASSWORD_VALIDATORS: list[dict[str, Any]] = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
AUTH_PASSWORD_VALIDATORS[1]["OPTIONS"] = {"min_length": 10}
AUTH_PASSWORD_VALIDATORS.append({"NAME": "jungoptic.web.accounts.guard.NotOurWords"})
# Scrypt costs a guesser memory too, and a sign-in a sixth of what PBKDF2 does; older ones are
# read and written anew at the next sign-in.
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.ScryptPasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
# Wrong passwords are counted in the database, for every process and by account, whatever address
# they come from; tries of one address are counted beside that (`accounts.guard`).
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = datetime.timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = ["username"]
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "jungoptic.web.callers.address_of"
AXES_USERNAME_CALLABLE = "jungoptic.web.accounts.guard.account_of"
AXES_VERBOSE = False
# Trying on while it is closed keeps nobody out for longer.
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
# The sign-in answers in our own words, so its middleware has nothing to do; addresses have a limit
# of their own.
SILENCED_SYSTEM_CHECKS = ["axes.W002", "axes.W006"]
# Whether other names under the same domain speak HTTPS is not for us to say, nor to have every
# browser told so for good.
SILENCED_SYSTEM_CHECKS += ["security.W005", "security.W021"]

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
#: A device that was not used for so long is signed out; and so is any after the second.
SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_AT_MOST = 60 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "jungoptic.web.views.csrf_failed"
if CONFIG.behind_https:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = True
    # The proxy asks whether the process answers by plain HTTP.
    SECURE_REDIRECT_EXEMPT = [r"^api/health/"]
    SECURE_HSTS_SECONDS = 365 * 24 * 3600
    # A browser takes these only over HTTPS, from this very host: no other site under the same
    # name can plant one.
    SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "__Host-session", "__Host-csrftoken"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"

#: The largest body of a plan or an edit. Anything above answers 413.
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
#: The largest file: a photograph or an edit list.
FILE_UPLOAD_LIMIT = 25_000_000
#: The largest part of a file that is sent in parts.
PART_LIMIT = 64 << 20

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = CONFIG.data_dir / "static" if CONFIG.collected_static else None
STATICFILES_DIRS = [CONFIG.frontend_dist] if CONFIG.frontend_dist.exists() else []
# Vite hashes the names already; hashing them again would load the application twice.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+[.-][0-9a-zA-Z_-]{8,12}\..+$"
# Straight from Vite's folder unless they were collected: a rebuild under a running server would
# otherwise pull the files from under it, and a test must never see an older collection.
WHITENOISE_USE_FINDERS = not CONFIG.collected_static
MEDIA_ROOT = CONFIG.data_dir / "media"
#: Where files lie while they are being sent; on the disk of MEDIA_ROOT nothing is copied.
INCOMING_ROOT = CONFIG.data_dir / "incoming"
#: Bytes of pictures that a production may hold.
PICTURE_QUOTA = CONFIG.quota_gb * 1000**3
#: The same of what one person has sent and taken, in all productions.
PERSON_QUOTA = CONFIG.person_gb * 1000**3
#: How many productions one person may own.
PRODUCTIONS_EACH = CONFIG.productions_each
STORAGES: dict[str, Any] = {
    "default": {"BACKEND": "jungoptic.web.storage.WholeFiles"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
if CONFIG.s3_bucket:
    STORAGES["default"] = {
        "BACKEND": "storages.backends.s3.S3Storage",
        "OPTIONS": {
            "bucket_name": CONFIG.s3_bucket,
            "endpoint_url": CONFIG.s3_endpoint or None,
            # Names are of what is in a file, or made anew: nothing is ever written over.
            "file_overwrite": False,
        },
    }

DJANGO_VITE = {
    "default": {
        "dev_mode": CONFIG.vite_dev_port > 0,
        "dev_server_host": "127.0.0.1",
        "dev_server_port": CONFIG.vite_dev_port or 5173,
        "manifest_path": CONFIG.frontend_dist / "manifest.json",
    }
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"request": {"()": "jungoptic.web.logs.WithRequest"}},
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "%(asctime)s %(levelname)s %(name)s %(message)s %(request_id)s",
        }
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "filters": ["request"],
            "formatter": "json",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "jungoptic": {"level": CONFIG.log_level},
        "procrastinate": {"level": CONFIG.log_level},
        # Each answer has its own line already, with its id.
        "django.request": {"level": "CRITICAL"},
    },
}
