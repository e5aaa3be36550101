from django.apps import AppConfig


class LogConfig(AppConfig):
    name = "web.log"

    def ready(self) -> None:
        from web.log import jobs, listening  # noqa: F401
