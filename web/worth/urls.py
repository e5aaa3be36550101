from django.urls import path

from web.worth import views
from web.worth.offers import OffersView
from web.worth.spent import TakeKnown
from web.worth.use_view import ProfileFile, ShowUse

urlpatterns = [
    path("", views.WorthStation.as_view(), name="station"),
    path("use/", ShowUse.as_view(), name="use"),
    path("profile", ProfileFile.as_view(), name="profile"),
    path("offers/", OffersView.as_view(), name="offers"),
    path("spent/", TakeKnown.as_view(), name="spent"),
    path("rows/", views.AddRow.as_view(), name="add"),
    path("rows/<int:row>/delete/", views.DeleteRow.as_view(), name="remove"),
]
