from django.apps import AppConfig


class BuildsConfig(AppConfig):
    name = "web.builds"

    def ready(self) -> None:
        from web.builds import asking  # noqa: F401  (registers the kinds of long work)
        from web.builds.registry import autodiscover

        autodiscover()
