"""Devices and files bring readings into the log."""

from web.builds.registry import Pages, register_pages
from web.devices.keeper import UploadKeeper
from web.devices.views import shown_on_the_log

register_pages(Pages("devices", "log", 10, "web.devices.urls", shown=shown_on_the_log, keeper=UploadKeeper))
