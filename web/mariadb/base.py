"""Django's MariaDB backend, which looks up the server's port anew for every connection.

The private server of ``./start`` may come back on another port; it writes the port into a file, and web processes and workers
that live on find it there.
"""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.backends.mysql import base


class DatabaseWrapper(base.DatabaseWrapper):
    """One connection; see the module."""

    def get_connection_params(self) -> dict[str, Any]:
        params: dict[str, Any] = super().get_connection_params()
        port_file = settings.DATABASE_PORT_FILE
        if port_file:
            with suppress(OSError, ValueError):
                params["port"] = int(Path(port_file).read_text())
        return params
