from django.urls import path

from web.wind import views

urlpatterns = [
    path("", views.WindStation.as_view(), name="station"),
    path("forecast/", views.ForecastView.as_view(), name="forecast"),
    path("scaled/", views.ScaledView.as_view(), name="scaled"),
    path("beams/", views.AddBeam.as_view(), name="add-beam"),
    path("beams/own/", views.AddOwnBeam.as_view(), name="own-beam"),
    path("beams/<int:row>/delete/", views.DeleteBeam.as_view(), name="remove-beam"),
    path("levels/", views.AddLevels.as_view(), name="add-levels"),
    path("levels/<int:row>/delete/", views.DeleteLevels.as_view(), name="remove-levels"),
]
