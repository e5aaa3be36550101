from django.apps import AppConfig


class TiltConfig(AppConfig):
    name = "web.tilt"
