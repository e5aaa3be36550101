from django.urls import path

from web.devices import files, views

urlpatterns = [
    path("file/", files.FileIn.as_view(), name="file-in"),
    path("file/<int:upload>/", files.FileShown.as_view(), name="file"),
    path("file/<int:upload>/part/", files.FilePart.as_view(), name="file-part"),
    path("file/<int:upload>/state/", files.FileState.as_view(), name="file-state"),
    path("token/", views.NewToken.as_view(), name="token"),
    path("token/<int:token>/revoke/", views.Revoke.as_view(), name="revoke"),
    path("live/", views.Live.as_view(), name="live"),
]
