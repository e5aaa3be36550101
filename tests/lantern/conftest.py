"""The throw-away station's own tests run where it is plugged in."""

from django.conf import settings

from tests.application import _every_view_is_loaded, _jobs_run_here, _whitenoise_serves  # noqa: F401 - for every test here

collect_ignore_glob = [] if "tests.lantern" in settings.INSTALLED_APPS else ["*"]
