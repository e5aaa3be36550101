"""Printed sheets."""

from __future__ import annotations

from typing import Any

import segno
from django.utils.safestring import SafeString, mark_safe


def pdf_of(page: str) -> bytes:
    """A page of HTML that holds everything it needs, as PDF: nothing is fetched."""
    from weasyprint import HTML

    pdf: bytes = HTML(string=page, url_fetcher=_nothing).write_pdf()
    return pdf


def code_of(address: str) -> SafeString:
    """A small code as SVG that opens an address; empty for none."""
    if not address:
        return mark_safe("")
    return mark_safe(segno.make(address, error="m").svg_inline(scale=2, border=2))  # noqa: S308  (made here, of black squares)


def _nothing(url: str, *args: Any, **kwargs: Any) -> Any:
    raise ValueError(f"not fetched: {url}")
