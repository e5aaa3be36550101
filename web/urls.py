"""One door per app."""

from django.urls import include, path

from web.builds.views import home

urlpatterns = [
    path("", home, name="home"),
    path("account/", include("web.accounts.urls")),
    path("builds/", include("web.builds.urls")),
    path("builds/<int:pk>/place/", include("web.place.urls")),
    path("builds/<int:pk>/shade/", include("web.shade.urls")),
    path("builds/<int:pk>/frame/", include("web.frame.urls")),
    path("builds/<int:pk>/tilt/", include("web.tilt.urls")),
    path("builds/<int:pk>/worth/", include("web.worth.urls")),
]
