"""The command ``schema``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Command

if TYPE_CHECKING:
    from sundial.study import Study


def _schema(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.brief.read import schema

    return schema()


COMMANDS = (Command("schema", "the JSON Schema of a brief", _schema, needs_brief=False),)
