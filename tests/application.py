"""What all tests of the application share: those of the core ask for none of it, and run without Django."""

import os
from typing import Any

import pytest
from django.contrib.auth.hashers import Argon2PasswordHasher

# Playwright's synchronous calls run inside an event loop; the tests themselves touch the database from one thread only.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# Hundreds of people are made up: the same algorithm, at a fraction of the cost that guessing must have in earnest.
Argon2PasswordHasher.time_cost, Argon2PasswordHasher.memory_cost, Argon2PasswordHasher.parallelism = 1, 8, 1


class WithoutHandler:
    """Stands in for Django's static handler in the live server: WhiteNoise serves the hashed files, as in earnest."""

    def __init__(self, application: Any) -> None:
        self.application = application

    def __call__(self, environ: Any, start_response: Any) -> Any:
        return self.application(environ, start_response)


@pytest.fixture(scope="session", autouse=True)
def _whitenoise_serves():
    """One live server stands for all tests of a process, whichever asks for it first: it serves hashed files."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("django.contrib.staticfiles.handlers.StaticFilesHandler", WithoutHandler)
        yield


@pytest.fixture(scope="session", autouse=True)
def _every_view_is_loaded():
    """Modules of views hold what they import: none may be loaded for the first time while a test has put something else in its place."""
    from django.urls import get_resolver

    _ = get_resolver().url_patterns


@pytest.fixture(autouse=True)
def _jobs_run_here(settings, request):
    """Long work runs in the process that asks for it, but where a test starts a worker of its own."""
    settings.BENCH_SETTINGS, settings.BENCH_EVERY = 3, 30
    settings.PERSON_SECONDS = 10_000  # the processes of a test run count together
    for limit in ("FAILED_SIGN_INS_AN_HOUR", "SIGN_UPS_AN_HOUR", "VISITORS_AN_HOUR", "CODES_AN_HOUR"):
        setattr(settings, limit, 1_000_000)
    if "worker" not in request.keywords:
        settings.CELERY_TASK_ALWAYS_EAGER = True
        from web.celery import app

        app.conf.task_always_eager = True
        yield
        app.conf.task_always_eager = False
    else:
        yield
