from django.apps import AppConfig


class LogConfig(AppConfig):
    name = "web.log"

    def ready(self) -> None:
        from web.log import listening, photos  # noqa: F401
