from django.apps import AppConfig


class WorthConfig(AppConfig):
    name = "web.worth"
