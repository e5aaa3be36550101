"""The product's settings with one station more: all that a new station needs outside its own folder is this line."""

from web.settings import *  # noqa: F403
from web.settings import INSTALLED_APPS

INSTALLED_APPS = [*INSTALLED_APPS, "tests.lantern"]
