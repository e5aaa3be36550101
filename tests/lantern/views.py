from __future__ import annotations

from typing import Any

from tests.lantern.forms import LanternForm
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import StationView


class LanternStation(StationView):
    key = "lantern"
    form_class = LanternForm

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        return {"glow": results["glow"]}
