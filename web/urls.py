"""One door per app; the stations' doors are made from the registry."""

from django.urls import include, path

from web import health
from web.builds.urls import station_urls
from web.builds.views import home
from web.devices.api import api

urlpatterns = [
    path("", home, name="home"),
    path("healthz", health.live),
    path("readyz", health.ready),
    path("account/", include("web.accounts.urls")),
    path("jobs/", include("web.jobs.urls")),
    path("api/", api.urls),
    path("builds/", include("web.builds.urls")),
    *station_urls(),
]
