from django.apps import AppConfig


class WindConfig(AppConfig):
    name = "web.wind"
