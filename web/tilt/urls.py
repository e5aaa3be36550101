from django.urls import path

from web.tilt import views

urlpatterns = [path("", views.TiltStation.as_view(), name="station")]
