from django.urls import path

from web.trials import views

urlpatterns = [
    path("trials/", views.Trials.as_view(), name="list"),
    path("trials/<int:trial>/", views.OneTrial.as_view(), name="trial"),
    path("trials/<int:trial>/repeat/", views.AddRepeat.as_view(), name="repeat"),
    path("trials/<int:trial>/repeat/<int:repeat>/remove/", views.RemoveRepeat.as_view(), name="remove-repeat"),
    path("trials/<int:trial>/spots/", views.AddSpots.as_view(), name="spots"),
    path("trials/<int:trial>/remove/", views.RemoveTrial.as_view(), name="remove"),
]
