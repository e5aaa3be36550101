"""Static files under hashed names; ES modules find each other by them."""

from django.contrib.staticfiles.storage import HashedFilesMixin
from whitenoise.storage import CompressedManifestStaticFilesStorage

_JS_PATTERNS = HashedFilesMixin._js_module_import_aggregation_patterns[1]  # type: ignore[attr-defined]


class ModuleStorage(CompressedManifestStaticFilesStorage):
    """WhiteNoise's storage, with the names in our own modules' ``import`` statements hashed as well (Django's import
    aggregation, kept away from the packages' scripts, some of which name files they do not ship)."""

    support_js_module_import_aggregation = True
    _js_module_import_aggregation_patterns = ("js/*.js", _JS_PATTERNS)
