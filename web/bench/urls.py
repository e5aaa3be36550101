from django.urls import path

from web.bench import views

urlpatterns = [
    path("", views.BenchStation.as_view(), name="station"),
    path("year/", views.BenchYear.as_view(), name="year"),
    path("beside/", views.Beside.as_view(), name="beside"),
    path("take/", views.Take.as_view(), name="take"),
    path("table/", views.Table.as_view(), name="table"),
    path("settings.json", views.SettingsOut.as_view(), name="settings"),
]
