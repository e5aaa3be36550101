"""Pieces of files on their way in take room of their person's."""

from __future__ import annotations

from django.db.models import QuerySet

from web.builds.models import Build
from web.builds.part import Keeper, bytes_in
from web.devices.models import Chunk


class UploadKeeper(Keeper):
    @classmethod
    def bytes_of(cls, builds: QuerySet[Build]) -> int:
        return bytes_in(Chunk.objects.filter(upload__build__in=builds))
