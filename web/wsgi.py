"""The WSGI entry point for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
django = get_wsgi_application()

from django.conf import settings  # noqa: E402  (the applications must be loaded first)

from web.builds.results import forget_all  # noqa: E402
from web.callers import CALLERS  # noqa: E402
from web.server import SHED, Turns  # noqa: E402
from web.warm import warm_up  # noqa: E402

application = Turns(django, settings.UPLOAD_LIMIT, callers=CALLERS)
SHED.append(forget_all)
warm_up()
