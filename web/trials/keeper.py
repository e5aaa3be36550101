"""Trials go with a build into the zip of all data, and with a demo build to its visitor."""

from __future__ import annotations

import json
from collections.abc import Mapping

from web.builds.models import Build
from web.builds.part import Keeper
from web.trials.models import MOST_TRIALS, Trial

FILE = "log-trials.json"


class TrialKeeper(Keeper):
    def keepsakes(self) -> dict[str, bytes]:
        told = [trial.told for trial in Trial.objects.filter(build=self.build).prefetch_related("repeats")]
        return {FILE: json.dumps(told, ensure_ascii=False).encode()} if told else {}

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        for told in json.loads(files.get(FILE, b"[]"))[:MOST_TRIALS]:
            Trial.from_told(self.build, told)

    def copy_to(self, twin: Build) -> None:
        """What was tried belongs to the rack that stands, so only a copy for another person (the demo) has it."""
        if twin.owner_id != self.build.owner_id:
            for trial in Trial.objects.filter(build=self.build).prefetch_related("repeats"):
                Trial.from_told(twin, trial.told)
