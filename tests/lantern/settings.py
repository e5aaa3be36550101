"""The product's settings with one station more: all that a new station needs outside its own folder is its line."""

import os

# Each test process has a broker database of its own, for the workers that its tests start.
if "PYTEST_XDIST_WORKER" in os.environ:
    os.environ.setdefault("SUNDIAL_BROKER_DB", str(3 + int(os.environ["PYTEST_XDIST_WORKER"][2:])))

from web.settings import *  # noqa: E402, F403
from web.settings import INSTALLED_APPS  # noqa: E402

INSTALLED_APPS = [*INSTALLED_APPS, "tests.lantern"]
