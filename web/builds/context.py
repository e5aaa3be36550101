"""What every page's shell needs."""

from django.conf import settings
from django.http import HttpRequest


def shell(request: HttpRequest) -> dict[str, object]:
    return {"demo_on": settings.DEMO, "upload_limit": settings.UPLOAD_LIMIT}
