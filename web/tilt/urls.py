from django.urls import path

from web.tilt import views

urlpatterns = [
    path("", views.TiltStation.as_view(), name="station"),
    path("held", views.HowHeld.as_view(), name="held"),
    path("stay", views.StayView.as_view(), name="stay"),
]
