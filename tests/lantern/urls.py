from django.urls import path

from tests.lantern import views

urlpatterns = [path("", views.LanternStation.as_view(), name="station")]
