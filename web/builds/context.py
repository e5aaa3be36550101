"""What every page's shell needs."""

from django.conf import settings
from django.http import HttpRequest

from web.builds import registry
from web.seats import account_of, seat_of


def shell(request: HttpRequest) -> dict[str, object]:
    return {
        "demo_on": settings.DEMO,
        "upload_limit": settings.UPLOAD_LIMIT,
        "station_styles": [style for station in registry.stations() for style in station.styles],
        "station_keys": [line for station in registry.stations() for line in station.keys],
        "station_count": len(registry.stations()),
        "seat": seat_of(request),
        "account_mark": account_of(request),
    }
