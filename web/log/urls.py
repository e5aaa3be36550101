from django.urls import path

from web.log import keeping, views

urlpatterns = [
    path("", views.LogStation.as_view(), name="station"),
    path("field/", views.Field.as_view(), name="field"),
    path("field/worker.js", views.FieldWorker.as_view(), name="worker"),
    path("add/<str:kind>/", views.Add.as_view(), name="add"),
    path("entry/<int:entry>/remove/", views.Remove.as_view(), name="remove"),
    path("entry/<int:entry>/photo/", views.ShowPhoto.as_view(), name="photo"),
    path("judged/", views.Judged.as_view(), name="judged"),
    path("take-over/", views.TakeOver.as_view(), name="take-over"),
    path("source/<int:source>/main/", keeping.MainSource.as_view(), name="main"),
    path("source/<int:source>/series.csv", keeping.SeriesOut.as_view(), name="series"),
    path("log.json", keeping.LogOut.as_view(), name="entries"),
    path("aside/", keeping.AsideSaid.as_view(), name="aside"),
    path("delete/", keeping.DeleteSpan.as_view(), name="delete"),
    path("source/<int:source>/beside/", views.OwnBeside.as_view(), name="own-beside"),
    path("beside/<int:other>/", views.BesideView.as_view(), name="beside"),
]
