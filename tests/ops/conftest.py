"""The application as it is run: started, stopped, backed up."""

from tests.application import _every_view_is_loaded, _jobs_run_here, _whitenoise_serves  # noqa: F401 - for every test here
