"""Printed sheets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import segno


def pdf_of(page: str) -> bytes:
    """A page of HTML that holds everything it needs, as PDF: nothing is fetched."""
    from weasyprint import HTML

    pdf: bytes = HTML(string=page, url_fetcher=nothing).write_pdf()
    return pdf


@dataclass(frozen=True)
class Code:
    """A small square code: ``size`` modules across with its quiet border, the dark ones as one SVG ``path``."""

    size: int
    path: str


def code_of(address: str) -> Code | None:
    """The code that opens an address; None for none."""
    if not address:
        return None
    rows = list(segno.make(address, error="m").matrix_iter(border=2))
    dark = "".join(f"M{x} {y}h1v1h-1z" for y, row in enumerate(rows) for x, module in enumerate(row) if module)
    return Code(len(rows), dark)


def nothing(url: str, *args: Any, **kwargs: Any) -> Any:
    raise ValueError(f"not fetched: {url}")
