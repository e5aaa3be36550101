"""How a kind of mount is asked about, and how its fields become the words of a brief."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from django.forms import Field

if TYPE_CHECKING:
    from web.builds.models import Build

Told = Mapping[str, Any]


def _nothing(build: Build) -> dict[str, Any]:
    return {}


@dataclass(frozen=True)
class MountKind:
    """One kind: its ``key`` in a brief and its ``label``; ``read``: its words for a brief out of what was typed, refusals put beside their fields;
    the fields that must be ``needed``; ``fields`` of its own with the template of its ``questions``, and fields it ``shares`` with other kinds;
    what is asked in the guided start (``first``); ``usual`` answers to begin with, and those that follow from a build (``shown``)."""

    key: str
    label: str
    read: Callable[[Any, Told], dict[str, Any]]  # of the page's form
    needed: tuple[str, ...] = ()
    shares: tuple[str, ...] = ()
    fields: dict[str, Field] = field(default_factory=dict)
    questions: str = ""
    first: tuple[str, ...] = ()
    paths: dict[str, str] = field(default_factory=dict)
    usual: dict[str, Any] = field(default_factory=dict)
    shown: Callable[[Build], dict[str, Any]] = _nothing

    @property
    def headline(self) -> str:
        """The template of how the headline goes on after the panels."""
        return f"frame/mounts/{self.key}-headline.html"
