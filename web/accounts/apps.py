from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "web.accounts"

    def ready(self) -> None:
        from web.accounts import chores, signals  # noqa: F401  (they register themselves)
