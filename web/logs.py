"""Log lines as JSON: when, how grave, what, and for requests who (by number), how long, under which id. No texts that people
typed, no addresses with a secret in them."""

from __future__ import annotations

import json
import logging
from contextvars import ContextVar
from datetime import UTC, datetime

request_id: ContextVar[str] = ContextVar("request_id", default="")
TOLD = ("method", "path", "status", "milliseconds", "user")


class JsonFormatter(logging.Formatter):
    """One line a record."""

    def format(self, record: logging.LogRecord) -> str:
        line = {
            "time": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": record.getMessage(),
        }
        if request_id.get():
            line["request"] = request_id.get()
        line |= {name: getattr(record, name) for name in TOLD if hasattr(record, name)}
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)
