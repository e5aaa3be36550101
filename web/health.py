"""Whether the product lives, and whether it can work: for whoever watches over it."""

from __future__ import annotations

from django.core.cache import cache
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse

from web.jobs.broker import broker_is_up
from web.jobs.queue import WORKER_SEEN


def live(request: HttpRequest) -> HttpResponse:
    """The process answers."""
    return HttpResponse("ok\n", content_type="text/plain")


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
    broker = broker_is_up()
    told = {"database": database, "migrations": migrated, "broker": broker, "worker": broker and bool(cache.get(WORKER_SEEN))}
    return JsonResponse({"ready": database and migrated, **told}, status=200 if database and migrated else 503)
