from django.urls import path

from web.place import views

app_name = "place"
urlpatterns = [path("", views.PlaceStation.as_view(), name="station")]
