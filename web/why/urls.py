from django.urls import path

from web.why import practice, views

urlpatterns = [
    path("why/", views.Why.as_view(), name="day"),
    path("trainer/", practice.Trainer.as_view(), name="practice"),
]
