from django.urls import path

from web.log import files, keeping, practice, trials, views, why

urlpatterns = [
    path("", views.LogStation.as_view(), name="station"),
    path("field/", views.Field.as_view(), name="field"),
    path("field/worker.js", views.FieldWorker.as_view(), name="worker"),
    path("add/<str:kind>/", views.Add.as_view(), name="add"),
    path("entry/<int:entry>/remove/", views.Remove.as_view(), name="remove"),
    path("entry/<int:entry>/photo/", views.ShowPhoto.as_view(), name="photo"),
    path("judged/", views.Judged.as_view(), name="judged"),
    path("take-over/", views.TakeOver.as_view(), name="take-over"),
    path("file/", files.FileIn.as_view(), name="file-in"),
    path("file/<int:upload>/", files.FileShown.as_view(), name="file"),
    path("file/<int:upload>/part/", files.FilePart.as_view(), name="file-part"),
    path("file/<int:upload>/state/", files.FileState.as_view(), name="file-state"),
    path("source/<int:source>/main/", keeping.MainSource.as_view(), name="main"),
    path("source/<int:source>/series.csv", keeping.SeriesOut.as_view(), name="series"),
    path("log.json", keeping.LogOut.as_view(), name="entries"),
    path("token/", keeping.NewToken.as_view(), name="token"),
    path("token/<int:token>/revoke/", keeping.Revoke.as_view(), name="revoke"),
    path("aside/", keeping.AsideSaid.as_view(), name="aside"),
    path("delete/", keeping.DeleteSpan.as_view(), name="delete"),
    path("source/<int:source>/beside/", views.OwnBeside.as_view(), name="own-beside"),
    path("trials/", trials.Trials.as_view(), name="trials"),
    path("trials/<int:trial>/", trials.OneTrial.as_view(), name="trial"),
    path("trials/<int:trial>/repeat/", trials.AddRepeat.as_view(), name="repeat"),
    path("trials/<int:trial>/repeat/<int:repeat>/remove/", trials.RemoveRepeat.as_view(), name="remove-repeat"),
    path("trials/<int:trial>/remove/", trials.RemoveTrial.as_view(), name="remove-trial"),
    path("why/", why.Why.as_view(), name="why"),
    path("trainer/", practice.Trainer.as_view(), name="practice"),
    path("beside/<int:other>/", views.BesideView.as_view(), name="beside"),
]
