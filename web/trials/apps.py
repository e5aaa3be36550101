from django.apps import AppConfig


class TrialsConfig(AppConfig):
    name = "web.trials"
