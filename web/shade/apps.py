from django.apps import AppConfig


class ShadeConfig(AppConfig):
    name = "web.shade"
