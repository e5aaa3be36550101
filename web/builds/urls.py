from django.urls import path

from web.builds import views

app_name = "builds"
urlpatterns = [
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
    path("<int:pk>/weather", views.WeatherFile.as_view(), name="weather"),
    path("<int:pk>/day/", views.ChosenDay.as_view(), name="day"),
]
