from django.urls import path

from web.tilt import views

app_name = "tilt"
urlpatterns = [
    path("", views.TiltStation.as_view(), name="station"),
    path("moves.ics", views.MovesCalendar.as_view(), name="calendar"),
    path("plan.csv", views.PlanTable.as_view(), name="csv"),
    path("field-card.pdf", views.FieldCard.as_view(), name="card"),
    path("drawing.svg", views.PlanDrawing.as_view(), name="svg"),
    path("hours.csv", views.HourlyYear.as_view(), name="hours"),
]
