"""CSV files out, safe to open in a spreadsheet."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

RISKY = ("=", "+", "-", "@", "\t", "\r")


def safe_cell(value: Any) -> Any:
    """Text that a spreadsheet would run as a formula gets an apostrophe in front; numbers stay numbers."""
    return f"'{value}" if isinstance(value, str) and value.startswith(RISKY) else value


def csv_text(heads: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(heads)
    writer.writerows([safe_cell("" if cell is None else cell) for cell in row] for row in rows)
    return out.getvalue()
