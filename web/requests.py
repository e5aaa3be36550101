"""The type of a request that has passed django-htmx's middleware."""

from __future__ import annotations

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails


class HtmxHttpRequest(HttpRequest):
    """Every request here: ``htmx`` is true where htmx asked."""

    htmx: HtmxDetails
