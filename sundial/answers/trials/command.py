"""The command ``trial``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from sundial.answers.command import Answer, Command
from sundial.errors import BriefError


def trial_answer(text: bytes, gain: float | None = None) -> Answer:
    """A trial's result as data."""
    from sundial.trials.model import read_trial
    from sundial.trials.result import trial_result

    trial = read_trial(text)
    if gain is not None:
        trial = trial.model_copy(update={"gain": gain})
    found = trial_result(trial)
    effects = {
        name: None if one is None else vars(one)
        for name in ("panels", "carry_over", "left", "drift")
        for one in [getattr(found, name)]
    }
    return {**vars(found), **effects, "said": [vars(one) for one in found.said]}


def _gain(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = 0.0
    if not 0 < value <= 5:
        raise argparse.ArgumentTypeError(f"{text!r} is not a gain such as 0.03")
    return value


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("file", metavar="FILE", help="a trial as a JSON file")
    parser.add_argument(
        "--gain",
        type=_gain,
        metavar="G",
        help="gain to be able to show, a fraction; left out: the file's, or the one that is found",
    )


def _trial(options: argparse.Namespace, study: Callable[..., Any]) -> Any:
    try:
        text = Path(options.file).read_bytes()
    except OSError as error:
        raise BriefError(options.file, f"cannot be read: {error.strerror}") from None
    return trial_answer(text, options.gain)


COMMANDS = (
    Command("trial", "what a trial of two arms shows: the ratio with its interval", _trial, _arguments, needs_brief=False),
)
