"""The commands ``strings`` and ``restring``."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.electrics.cable import Run
    from sundial.electrics.leads import Joint
    from sundial.electrics.restring import Restrung
    from sundial.electrics.strings import Split
    from sundial.scene import Scene
    from sundial.study import Study

LARGEST = 1_000_000


def strings_answer(study: Study) -> Answer:
    """Voltages and currents against the limits, allowed splits, the cable and the leads."""
    from sundial.answers.electrics.report import ESTIMATE, electrics_report

    report = electrics_report(study)
    return {
        "strings": [list(one) for one in report.strings],
        "cold_voltage": report.cold_voltage,
        "cold_working": report.cold_working,
        "hot_voltage": report.hot_voltage,
        "hot_cell": report.cell,
        "current": report.current,
        "side_by_side": report.side_by_side,
        "ok": not report.why,
        "verdict": report.verdict,
        "string_lengths": report.lengths and list(report.lengths),
        "allowed": [_split(one) for one in report.splits],
        "cable": report.run and _cable(report.run),
        "leads": [_joint(one) for one in report.joints],
        "clipped": report.clipped and asdict(report.clipped),
        "cables": [asdict(one) for one in report.cables],
        **({"restring": _restrung(report.better)} if report.better else {}),
        **({"longer": _restrung(report.longer)} if report.longer else {}),
        "notes": list(report.notes),
        "sources": list(report.sources),
        "estimate": ESTIMATE,
    }


def _split(split: Split) -> Answer:
    return {
        "inputs": [asdict(group) for group in split.inputs],
        "cold_voltage": split.cold_voltage,
        "hot_voltage": split.hot_voltage,
        "current": split.current,
    }


def _cable(run: Run) -> Answer:
    return {
        "drop": run.own.drop,
        "drop_share": run.own.share,
        "lost_kwh": run.own.lost,
        "sizes": [
            {"area": one.area, "awg": one.awg, "drop": one.drop, "drop_share": one.share, "lost_kwh": one.lost, "price": one.price, "years": one.years}
            for one in sorted({*run.sizes, *run.gauges}, key=lambda one: one.area)
        ],
        "within_2_percent": run.within_2,
        "within_3_percent": run.within_3,
    }  # fmt: skip


def _joint(joint: Joint) -> Answer:
    return {
        "string": joint.string, "from": joint.start, "to": joint.end, "needed": joint.needed, "there": joint.there,
        "reaches": not joint.extension, "extension": joint.extension, **({"ends": joint.ends} if joint.extension else {}),
    }  # fmt: skip


def _restrung(made: Restrung) -> Answer:
    return {
        "strings": [list(one) for one in made.strings],
        "opened": [list(one) for one in made.opened],
        "made": [list(one) for one in made.made],
        "changed": made.changed,
    }


def restring_answer(scene: Scene, old: list[list[int]]) -> Answer:
    """The nearest allowed wiring of the brief's panels to an ``old`` one."""
    from sundial.answers.electrics.report import MOST_TRIED, label_of, sizes_of
    from sundial.electrics.restring import restring
    from sundial.electrics.strings import allowed_splits

    label, count = label_of(scene), scene.array.count
    if label.input is None:
        raise BriefError("electrics.input", "is missing: say what the input bears")
    splits = allowed_splits(label, count, scene.brief.system.mounting)
    if not splits:
        raise BriefError("electrics.input", f"no way of splitting {count} panels keeps within its limits")
    panels = list(range(1, count + 1))
    found = [(restring(old, panels, sizes_of(split)), split) for split in splits[:MOST_TRIED]]
    made, split = min(found, key=lambda one: (one[0].changed, len(one[0].strings)))
    return {**_restrung(made), "split": _split(split)}


def _old_wiring(path: str) -> list[list[int]]:
    """Strings of panel numbers from a JSON file: a list of lists, or a brief with a wiring."""
    try:
        text = Path(path).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise BriefError("--from", f"{path!r} cannot be read: {getattr(error, 'strerror', None) or 'it is no text'}") from None
    if len(text) > LARGEST:
        raise BriefError("--from", "is far too large for a wiring")
    try:
        data = json.loads(text)
    except (json.JSONDecodeError, RecursionError):
        raise BriefError("--from", f"{path!r} is no JSON") from None
    if isinstance(data, dict):
        wiring = data.get("wiring")
        data = data.get("strings") or (wiring.get("strings") if isinstance(wiring, dict) else None)
    if (
        not isinstance(data, list)
        or not data
        or not all(
            isinstance(one, list)
            and one
            and all(isinstance(panel, int) and not isinstance(panel, bool) and panel > 0 for panel in one)
            for one in data
        )
    ):
        raise BriefError("--from", "holds no strings: a list of lists of panel numbers, such as [[1, 2, 3], [4, 5, 6]]")
    flat = [panel for one in data for panel in one]
    twice = next((panel for panel in flat if flat.count(panel) > 1), None)
    if twice is not None:
        raise BriefError("--from", f"panel {twice} is wired twice")
    return data


def _restring_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--from", dest="old", required=True, metavar="FILE", help="JSON: the old strings of panel numbers, or a brief"
    )


def _restring(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return restring_answer(study().scene, _old_wiring(options.old))


def _strings(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return strings_answer(study())


COMMANDS = (
    Command("strings", "voltages and currents against the input's limits, cable and leads", _strings),
    Command("restring", "the nearest allowed wiring to an old one", _restring, _restring_arguments),
)
