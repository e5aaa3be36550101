from django.urls import path

from web.frame import views

app_name = "frame"
urlpatterns = [path("", views.FrameStation.as_view(), name="station")]
