"""The command line: JSON on standard output, messages on standard error, exit 0, or 2 for a refused brief or option.

It loops over the commands that the topics register (:mod:`sundial.answers.command`); a topic itself is imported when asked for.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from sundial.answers.command import Command, finite
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.brief.model import Brief
    from sundial.study import Study


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(message, file=sys.stderr)
        raise SystemExit(2)


def registered() -> list[Command]:
    """The commands of every topic: each package of ``sundial.answers`` with a module ``command``."""
    found = sorted(path.parent.name for path in Path(__file__).parent.glob("answers/*/command.py"))
    modules = [import_module(f"sundial.answers.{topic}.command") for topic in found]
    return sorted((command for module in modules for command in module.COMMANDS), key=lambda command: command.name)


def _parser(commands: Sequence[Command]) -> argparse.ArgumentParser:
    parser = _Parser(prog="python -m sundial", description="Answers about one brief, as JSON.")
    choices = parser.add_subparsers(dest="command", required=True, metavar="COMMAND", parser_class=_Parser)
    for command in commands:
        made = choices.add_parser(command.name, help=command.help, description=command.help)
        if command.needs_brief:
            made.add_argument("brief", help="a brief as a JSON file")
        if command.arguments:
            command.arguments(made)
        made.set_defaults(chosen=command)
    return parser


def _brief(path: Path) -> Brief:
    from sundial.brief.read import read_brief

    try:
        text = path.read_bytes()
    except OSError as error:
        raise BriefError(str(path), f"cannot be read: {error.strerror}") from None
    return read_brief(text)


def _study(path: Path) -> Study:
    brief = _brief(path)

    from sundial.study import studied

    def load(name: str) -> bytes:
        try:
            return (path.parent / name).read_bytes()
        except OSError as error:
            raise BriefError("sky.file", f"{name!r} cannot be read: {error.strerror}") from None

    return studied(brief, load)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status."""
    options = _parser(registered()).parse_args(arguments)
    command: Command = options.chosen
    try:
        read = _brief if command.brief_only else _study
        answer: Any = command.answer(options, lambda path=None: read(Path(path or options.brief)))
        if isinstance(answer, str):
            print(answer, end="")
        else:
            print(json.dumps(finite(answer), indent=2, allow_nan=False))
        sys.stdout.flush()
    except BrokenPipeError:  # whoever read has seen enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except BriefError as error:
        print(error, file=sys.stderr)
        return 2
    return 0
