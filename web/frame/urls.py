from django.urls import path

from web.frame import aim, facing, views

urlpatterns = [
    path("", views.FrameStation.as_view(), name="station"),
    path("aim/", aim.Aim.as_view(), name="aim"),
    path("poses.json", views.Poses.as_view(), name="poses"),
    path("facings", facing.WhichWay.as_view(), name="facings"),
    path("face", facing.TakeOver.as_view(), name="take-over"),
    path("drill", views.Drill.as_view(), name="drill"),
]
