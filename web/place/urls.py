from django.urls import path

from web.place import views

urlpatterns = [
    path("", views.PlaceStation.as_view(), name="station"),
    path("weather", views.WeatherFile.as_view(), name="weather"),
    path("take-over", views.TakeOver.as_view(), name="take-over"),
]
