"""Whether the product lives, and whether it can work: for whoever watches over it."""

from __future__ import annotations

import os
from pathlib import Path

from django.core.cache import cache
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse

from web.jobs.broker import broker_is_up
from web.jobs.queue import WORKER_SEEN


def live(request: HttpRequest) -> HttpResponse:
    """The process answers."""
    return HttpResponse("ok\n", content_type="text/plain")


def half_restored() -> bool:
    """Whether a restore was broken off: what the database holds is half of it."""
    beside = os.environ.get("SUNDIAL_DB_PORT_FILE")
    return beside is not None and (Path(beside).parent / "restoring").exists()


def ready(request: HttpRequest) -> HttpResponse:
    """200 where pages can be served: the database answers and is migrated. The broker and a worker are told beside it: without
    them long work waits, and everything else goes on."""
    database, migrated = True, False
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        executor = MigrationExecutor(connection)
        migrated = not executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        database = False
    broker, whole = broker_is_up(), not half_restored()
    told = {
        "database": database, "migrations": migrated, "whole": whole, "broker": broker, "worker": broker and bool(cache.get(WORKER_SEEN)),
    }  # fmt: skip
    is_ready = database and migrated and whole
    return JsonResponse({"ready": is_ready, **told}, status=200 if is_ready else 503)
