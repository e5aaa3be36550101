"""The command ``why``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.diagnosis.case import Case
    from sundial.study import Study


def why_answer(case: Case, energy: float) -> Answer:
    """Suspects of a case as data, with what to ask next."""
    found = case.judged
    return {
        "suspects": [
            {
                "name": one.cause.name, "cause": one.cause.key, "probability": one.probability, "why": list(one.why), "check": one.cause.check,
                "minutes": one.cause.minutes, "caution": one.cause.caution, "remedy": one.cause.remedy,
                "returns": case.returns(one.cause.key, energy),
            }
            for one in found.suspects
        ],
        "together": None if found.pair is None else {"causes": list(found.pair[:2]), "probability": found.pair[2]},
        "evidence": dict(case.evidence),
        "ask": [{"question": one.question.key, "text": one.question.text, "answers": dict(one.question.answers), "bits": one.bits, "minutes": one.question.minutes} for one in case.questions[:3]],
        "contradictions": [list(pair) for pair in found.clashes],
        "notes": list(case.notes),
    }  # fmt: skip


def beside(path: Path, name: str) -> Path:
    """A file that lies in the same folder as ``path``. BriefError for any other, links out of the folder too."""
    found = (path.parent / name).resolve()
    if Path(name).name != name or found.parent != path.parent.resolve():
        raise BriefError("series", f"{name[:80]!r} must be the name of a file beside the evidence file")
    return found


def _why(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from pydantic import ValidationError

    from sundial.diagnosis.case import Evidence, case_of
    from sundial.record.series import read_series

    path = Path(options.evidence)
    try:
        told = Evidence.model_validate_json(path.read_bytes())
        data = beside(path, told.series).read_bytes() if told.series else None
    except OSError as error:
        raise BriefError(str(error.filename or path), f"cannot be read: {error.strerror}") from None
    except ValidationError as error:
        first = error.errors()[0]
        where, said = ".".join(str(part) for part in first["loc"]), first["msg"].removeprefix("Value error, ")
        if not where:  # a rule over several keys names its own
            where, _, said = said.rpartition(": ")
        raise BriefError(where or "evidence", said) from None
    build = study()
    try:
        series = None if data is None else read_series(data, build.scene.site, nameplate=build.scene.array.power)
    except BriefError as error:  # what is in a file is not told: it may be another than was meant
        raise BriefError("series", f"{told.series!r} cannot be read as a monitor's series ({error.path})") from None
    return why_answer(case_of(build, told, series), float(build.production().energy.sum()))


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("evidence", metavar="EVIDENCE.json", help="what is known: a reading, a series, answers")


COMMANDS = (Command("why", "why it may read low: suspects, each with why it fits and what settles it", _why, _arguments),)
