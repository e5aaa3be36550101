"""Kinds of long work. An app registers what it can do; a job's row names one of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from sundial.progress import Report
from web.jobs.models import Job

__all__ = ["CannotBeAnswered", "Kind", "Report", "kind_named", "register"]


@dataclass(frozen=True)
class Kind:
    """``run`` does the work of a job, reporting how far it is; ``seconds`` is its budget of time. What ``resumes`` has kept all that it
    reported, and goes on there when it is taken again: deaths before it got further do not count."""

    name: str
    run: Callable[[Job, Report], None]
    seconds: int = 120
    resumes: bool = False


_kinds: dict[str, Kind] = {}


def register(kind: Kind) -> Kind:
    """Add a kind; its name must be new."""
    if kind.name in _kinds:
        raise ValueError(f"there is a kind of job {kind.name!r} already")
    _kinds[kind.name] = kind
    return kind


def kind_named(name: str) -> Kind:
    """A kind by name; KeyError where there is none."""
    return _kinds[name]


class CannotBeAnswered(Exception):
    """The question itself cannot be answered; the words are for the person."""
