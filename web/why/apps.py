from django.apps import AppConfig


class WhyConfig(AppConfig):
    name = "web.why"
