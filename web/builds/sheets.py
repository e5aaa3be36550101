"""Printed sheets."""

from __future__ import annotations

from typing import Any


def pdf_of(page: str) -> bytes:
    """A page of HTML that holds everything it needs, as PDF: nothing is fetched."""
    from weasyprint import HTML

    pdf: bytes = HTML(string=page, url_fetcher=_nothing).write_pdf()
    return pdf


def _nothing(url: str, *args: Any, **kwargs: Any) -> Any:
    raise ValueError(f"not fetched: {url}")
