from importlib import import_module

from django.urls import URLPattern, URLResolver, include, path

from web.builds import registry, together, views
from web.builds.exports import export_paths

app_name = "builds"
urlpatterns: list[URLPattern | URLResolver] = [
    path("", views.BuildList.as_view(), name="list"),
    path("new/", views.NewBuild.as_view(), name="new"),
    path("import/", views.Import.as_view(), name="import"),
    path("<int:pk>/", views.OpenBuild.as_view(), name="open"),
    path("<int:pk>/start/<str:step>/", views.StartStep.as_view(), name="step"),
    path("<int:pk>/rename/", views.Rename.as_view(), name="rename"),
    path("<int:pk>/copy/", views.Copy.as_view(), name="copy"),
    path("<int:pk>/delete/", views.Delete.as_view(), name="delete"),
    path("<int:pk>/undelete/", views.Undelete.as_view(), name="undelete"),
    path("<int:pk>/brief.json", views.Export.as_view(), name="export"),
    path("<int:pk>/start-done/", views.EndStart.as_view(), name="start-done"),
    path("<int:pk>/open-sky/", views.OpenSky.as_view(), name="open-sky"),
    path("<int:pk>/together/", together.Together.as_view(), name="together"),
    path("<int:pk>/together/leave/", together.Leave.as_view(), name="leave"),
    path("<int:pk>/together/string/", together.WiredWith.as_view(), name="string"),
    path("<int:pk>/stands/", views.Stands.as_view(), name="stands"),
    path("<int:pk>/day/", views.ChosenDay.as_view(), name="day"),
]


def station_urls() -> list[URLResolver]:
    """The addresses of every registered station, under its key, and of the pages that other apps bring to it."""
    found = []
    for station in registry.stations():
        patterns = [*import_module(station.urls).urlpatterns, *export_paths(station)]
        found.append(path(f"builds/<int:pk>/{station.key}/", include((patterns, station.key), namespace=station.key)))
        for pages in registry.pages_of(station.key):
            patterns = import_module(pages.urls).urlpatterns
            found.append(path(f"builds/<int:pk>/{station.key}/", include((patterns, pages.key), namespace=pages.key)))
    return found
