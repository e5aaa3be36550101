"""The Celery application: long work runs in its workers. Its settings stand with Django's, under ``CELERY_``."""

import os

from celery import Celery
from celery.signals import worker_process_init, worker_ready

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
app = Celery("sundial")
app.config_from_object("django.conf:settings", namespace="CELERY")
app.autodiscover_tasks(["web.jobs"])


@worker_process_init.connect
def _set_budget(**kwargs: object) -> None:
    """A child may take so much memory and no more: a job that wants more ends with MemoryError, not with the machine."""
    import resource

    from django.conf import settings

    limit = settings.JOB_MEMORY
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))


@worker_ready.connect
def _send_again(**kwargs: object) -> None:
    """What the broker lost while no worker was there is sent again."""
    from web.jobs.queue import tend

    tend()
