from django.urls import path

from web.frame import views

urlpatterns = [
    path("", views.FrameStation.as_view(), name="station"),
    path("drill", views.Drill.as_view(), name="drill"),
]
