"""Settings that all tests share."""

from hypothesis import settings

settings.register_profile("check", max_examples=25, deadline=None)
settings.load_profile("check")
