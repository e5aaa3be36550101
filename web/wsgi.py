"""The WSGI entry point for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
application = get_wsgi_application()

from web.warm import warm_up  # noqa: E402  (the applications must be loaded first)

warm_up()
