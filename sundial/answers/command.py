"""Commands of the command line: what a topic registers, and what the answers of several topics share.

A topic's ``command`` module holds a tuple ``COMMANDS``. It is imported to know its options, so it imports the topic itself
only inside an answer.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.study import Study

Answer = dict[str, Any]


@dataclass(frozen=True)
class Command:
    """One command. ``arguments`` adds its options to a parser; ``answer`` gives data to print as JSON, or text as it is, from
    the options and a function that makes the study of the brief, or of the one at a path that it is given (``needs_brief`` False:
    the command asks for its files itself, or for none; ``brief_only``: the function gives the brief, and no study is made)."""

    name: str
    help: str
    answer: Callable[[argparse.Namespace, Callable[..., Any]], Any]
    arguments: Callable[[argparse.ArgumentParser], object] | None = None
    needs_brief: bool = True
    brief_only: bool = False


def write_file(option: str, path: str, text: str) -> None:
    """Write a file that an option names; BriefError where it cannot be written."""
    try:
        Path(path).write_text(text, encoding="utf-8")
    except OSError as error:
        raise BriefError(option, f"{path!r} cannot be written: {error.strerror}") from None


def share_over(value: float, base: float) -> float:
    return value / base - 1 if base > 0 else 0.0


def unshaded(study: Study, energy: Callable[[Study], float]) -> Answer:
    """``unshaded_energy``: the same question with nothing in the way; left out where nothing is."""
    return {} if study.scene.shade is None else {"unshaded_energy": energy(study.open_sky)}


def finite(answer: Any, path: str = "") -> Any:
    """The same answer; refuses a number that is not finite rather than print it."""
    if isinstance(answer, dict):
        return {key: finite(value, f"{path}.{key}") for key, value in answer.items()}
    if isinstance(answer, (list, tuple)):
        return [finite(value, path) for value in answer]
    if isinstance(answer, (float, np.floating)):
        if not np.isfinite(answer):
            raise ArithmeticError(f"{path} is not finite")
        return float(answer)
    return answer
