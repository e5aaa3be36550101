"""How a kind of frame is asked about, and how its fields and the words of a brief become each other."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.forms import Field

Told = Mapping[str, Any]


def always(_: Told) -> bool:
    return True


@dataclass(frozen=True)
class Choice:
    """One answer to what it is built from: its ``key``, which is also its picture's name, and ``label``; the brief's ``kind``; the fields that ask
    the ``measures`` of a brief's frame, by key, those under ``optional`` may stay empty; keys that lie in an object of their own (``inner``, in the
    object ``inside``); keys of an imported brief that these measures stand ``instead`` of. ``is_it``: whether a brief's frame of the kind is this
    one; ``says_tilts``: whether what was typed says the tilts it reaches; ``usual``: measures to begin with of fields that it shares with another
    answer."""

    key: str
    label: str
    kind: str
    measures: dict[str, str]
    optional: tuple[str, ...] = ()
    inside: str = ""
    inner: tuple[str, ...] = ()
    instead: tuple[str, ...] = ()
    is_it: Callable[[Told], bool] = always
    says_tilts: Callable[[Told], bool] = always
    usual: dict[str, Any] = field(default_factory=dict)

    def path(self, key: str) -> str:
        """Where a brief has a measure."""
        return f"frame.{self.inside}.{key}" if key in self.inner else f"frame.{key}"


@dataclass(frozen=True)
class FrameKind:
    """One kind: its ``choices``, its ``fields`` by name, ``usual`` measures to begin with, the ``template`` of its questions."""

    choices: tuple[Choice, ...]
    fields: dict[str, Field]
    template: str
    usual: dict[str, Any] = field(default_factory=dict)
