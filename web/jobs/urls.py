from django.urls import path

from web.jobs import views

app_name = "jobs"
urlpatterns = [path("<int:pk>/cancel/", views.Cancel.as_view(), name="cancel")]
