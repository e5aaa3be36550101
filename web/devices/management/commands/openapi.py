"""Print the description of the door for devices (docs/openapi.json)."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from web.devices.api import openapi


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(json.dumps(openapi(), indent=1))
