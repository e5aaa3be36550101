from django.apps import AppConfig


class BuildsConfig(AppConfig):
    name = "web.builds"
