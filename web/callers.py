"""Whose the requests of this process are: what the server shares its turns by, and the application tells it."""

from django.conf import settings

from web.addresses import networks
from web.server import Callers

CALLERS = Callers(settings.SESSION_COOKIE_NAME, networks(settings.TRUSTED_PROXIES))
