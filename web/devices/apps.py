from django.apps import AppConfig


class DevicesConfig(AppConfig):
    name = "web.devices"

    def ready(self) -> None:
        from web.devices import jobs  # noqa: F401
