"""Settings that all tests share."""

import os

from hypothesis import settings

settings.register_profile("check", max_examples=25, deadline=None)
settings.load_profile("check")
# Playwright's synchronous calls run inside an event loop; the tests themselves touch the database from one thread only.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
