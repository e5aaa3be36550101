from django.apps import AppConfig


class FrameConfig(AppConfig):
    name = "web.frame"
