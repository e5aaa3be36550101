from django.urls import path

from web.frame import aim, views

urlpatterns = [
    path("", views.FrameStation.as_view(), name="station"),
    path("aim/", aim.Aim.as_view(), name="aim"),
    path("poses.json", views.Poses.as_view(), name="poses"),
    path("drill", views.Drill.as_view(), name="drill"),
]
