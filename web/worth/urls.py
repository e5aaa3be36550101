from django.urls import path

from web.worth import views

app_name = "worth"
urlpatterns = [
    path("", views.WorthStation.as_view(), name="station"),
    path("rows/", views.AddRow.as_view(), name="add"),
    path("rows/<int:row>/delete/", views.DeleteRow.as_view(), name="remove"),
    path("comparison.csv", views.ComparisonTable.as_view(), name="csv"),
    path("drawing.svg", views.WorthDrawing.as_view(), name="svg"),
]
