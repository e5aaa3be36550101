from django.urls import path

from web.worth import views

urlpatterns = [
    path("", views.WorthStation.as_view(), name="station"),
    path("rows/", views.AddRow.as_view(), name="add"),
    path("rows/<int:row>/delete/", views.DeleteRow.as_view(), name="remove"),
]
