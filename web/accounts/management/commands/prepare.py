"""Bring the database and the static files up to date, and load the demo. Safe to repeat."""

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from web.accounts.demo import ensure_demo
from web.builds.results import core_fingerprint
from web.jobs.queue import submit


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            call_command("migrate", interactive=False, verbosity=0)
        self._collect_static()
        if settings.DEMO:
            original = ensure_demo()
            submit("warm-demo", "warm-demo", core_fingerprint(), original, again=True)

    def _collect_static(self) -> None:
        stamp = settings.STATIC_ROOT / ".stamp"
        wanted = _stamp_of(settings.BASE_DIR / "web")
        if not stamp.exists() or stamp.read_text() != wanted:
            call_command("collectstatic", interactive=False, verbosity=0)
            stamp.write_text(wanted)


def _stamp_of(folder: Path) -> str:
    """Names, sizes and times of all static files: they are collected anew only when one changed."""
    found = sorted(path for path in folder.rglob("*") if "static" in path.parts and path.is_file())
    text = "".join(f"{path}{path.stat().st_size}{path.stat().st_mtime_ns}" for path in found)
    return hashlib.sha256(text.encode()).hexdigest()
