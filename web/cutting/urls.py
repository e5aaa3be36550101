from django.urls import path

from web.cutting import views

urlpatterns = [
    path("", views.CuttingStation.as_view(), name="station"),
    path("shed/", views.Shed.as_view(), name="shed"),
    path("shed/worker.js", views.ShedWorker.as_view(), name="worker"),
    path("tick/", views.Tick.as_view(), name="tick"),
    path("proof/", views.Proof.as_view(), name="proof"),
]
