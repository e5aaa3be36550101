"""Freeze every answer of the command line over the example briefs, and compare two freezes.

A change that must not move a figure is proved by ``keep`` before it and after it, on one machine:

    .venv/bin/python scripts/frozen.py keep before.json.gz [--code OTHER_CHECKOUT] [--only PART_OF_A_NAME]
    .venv/bin/python scripts/frozen.py compare before.json.gz after.json.gz

Numbers are compared to a relative 1e-12 (of the larger one, or of 1 near nought), everything else exactly. A refusal or an error is
an answer too: its words are kept.
"""

from __future__ import annotations

import argparse
import csv
import gzip
import io
import json
import math
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import redirect_stderr, redirect_stdout
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
EXAMPLES = ROOT / "docs" / "examples"
CLOSE = 1e-12
DAY = "2026-05-12"


def _questions(brief: Path, work: Path) -> Iterator[list[str]]:
    """The command lines that are asked of one brief."""
    told = json.loads(brief.read_text(encoding="utf-8"))
    path, mount = str(brief), told.get("mount", {}).get("kind", "")
    yield ["sky", path]
    for at in ("2026-06-21T13:00", "2026-11-03T16:40"):
        yield ["sun", path, "--at", at]
        yield ["expected", path, "--at", at, "--sky", "haze"]
    yield ["plane", path]
    yield ["plane", path, "--tilt", "23"]
    yield ["schedule", path, "--moves", "2"]
    yield ["schedule", path, "--moves", "3", "--tilts", "all", "--by", "irradiation"]
    yield ["stay", path, "--from", "2026-07-01", "--days", "20", "--minutes", "6"]
    yield ["balance", path]
    yield ["compare", path]
    yield ["aim", path, "--on", DAY]
    for topic in ("frame", "wind", "footing", "beams", "cutting", "strings"):
        yield [topic, path]
    yield ["frame", path, "--drill", "0.05"]
    yield ["wind", path, "--gust", "17.3", "--tilt", "21"]
    yield ["shade", path]
    if "yard" in told:
        yield ["yard", path, "--grid", "4"]
        yield ["spots", path, "--best", "2"]
    settings = work / "settings.json"
    settings.write_text(json.dumps(told.get("bench", {})), encoding="utf-8")
    yield ["bench", path, str(settings), "--day", DAY, "--sky", "broken"]
    if mount not in ("fixed", "stepped"):
        yield ["sun-table", path, "--month", "5", "--every", "60", "--format", "json"]
    series = _series(work)
    yield ["clear-days", path, str(series)]
    yield ["change", path, str(series), "--on", "2026-06-10"]
    evidence = work / "evidence.json"
    evidence.write_text(json.dumps({"at": f"{DAY}T12:30", "watts": 900, "dry_days": 12, "answers": {}}), encoding="utf-8")
    yield ["why", path, str(evidence)]


def _series(work: Path) -> Path:
    """A made-up monitor's file: forty days, two in three of them clear."""
    path = work / "series.csv"
    if not path.exists():
        with path.open("w", encoding="utf-8", newline="") as file:
            rows = csv.writer(file)
            rows.writerow(["time", "power"])
            start = datetime(2026, 5, 20, tzinfo=UTC)
            for step in range(40 * 96):
                at = start + timedelta(minutes=15 * step)
                sun = max(math.sin((at.hour + at.minute / 60 - 6) / 12 * math.pi), 0.0) if 6 <= at.hour < 18 else 0.0
                cloud = 0.4 + 0.3 * math.sin(step * 1.7) if (step // 96) % 3 == 2 else 1.0
                worn = 0.94 if step > 21 * 96 else 1.0
                rows.writerow([at.strftime("%Y-%m-%d %H:%M"), round(2300 * sun * cloud * worn, 1)])
    return path


def answers_of(brief: Path) -> dict[str, Any]:
    """Every answer about one brief by its command line; the study of a brief is made once."""
    from sundial import cli

    studies: dict[Path, Any] = {}
    make = cli._study

    def once(path: Path) -> Any:
        if path not in studies:
            studies[path] = make(path)
        return studies[path]

    cli._study = once
    found: dict[str, Any] = {}
    try:
        with tempfile.TemporaryDirectory() as place:
            work = Path(place)
            for line in _questions(brief, work):
                out, err, began = io.StringIO(), io.StringIO(), time.perf_counter()
                with redirect_stdout(out), redirect_stderr(err):
                    try:
                        status: int | str = cli.main(line)
                    except SystemExit as end:
                        status = f"exit {end.code}"
                    except Exception as error:  # noqa: BLE001 - what breaks today must break alike tomorrow, or be mended knowingly
                        status = f"{type(error).__name__}: {error}"
                shown = " ".join(Path(word).name if "/" in word else word for word in line)
                text = out.getvalue()
                try:
                    data = json.loads(text)
                except ValueError:
                    data = text
                found[shown] = {"status": status, "out": data, "err": err.getvalue().replace(place, "WORK")}
                took = time.perf_counter() - began
                if took > 5:
                    print(f"{took:6.1f} s  {shown}", file=sys.__stderr__)
    finally:
        cli._study = make
    return found


def _keep(file: Path, code: Path, only: str, workers: int) -> None:
    briefs = [path for path in sorted(EXAMPLES.glob("*.json")) if only in path.stem]
    with ProcessPoolExecutor(workers, initializer=_from, initargs=(str(code),)) as pool:
        found = dict(zip((path.stem for path in briefs), pool.map(answers_of, briefs), strict=True))
    found["together"] = _group(code) if not only else {}
    with gzip.open(file, "wt", encoding="utf-8") as out:
        json.dump(found, out)
    asked = sum(map(len, found.values()))
    broken = [
        f"{name}: {line}: {one['status']}"
        for name, lines in found.items()
        for line, one in lines.items()
        if one["status"] not in (0, 2)
    ]
    print(f"{len(briefs)} briefs, {asked} answers", *broken, sep="\n")


def _group(code: Path) -> dict[str, Any]:
    """The builds of the example briefs that share a yard."""
    _from(str(code))
    from sundial import cli

    yard = [str(path) for path in sorted(EXAMPLES.glob("*.json")) if '"group"' in path.read_text(encoding="utf-8")]
    out = io.StringIO()
    with redirect_stdout(out):
        status = cli.main(["group", *yard])
    return {"group": {"status": status, "out": json.loads(out.getvalue()), "err": ""}}


def _from(code: str) -> None:
    """Answer with the core of another checkout."""
    sys.path.insert(0, code)


def differences(one: Any, other: Any, path: str = "") -> Iterator[str]:
    """Where two answers differ, by path."""
    numbers = isinstance(one, int | float) and isinstance(other, int | float) and not isinstance(one, bool)
    if numbers:
        if one != other and not math.isclose(one, other, rel_tol=CLOSE, abs_tol=CLOSE):
            yield f"{path}: {one!r} was, {other!r} is"
    elif isinstance(one, dict) and isinstance(other, dict):
        for key in sorted(one.keys() | other.keys()):
            if key in one and key in other:
                yield from differences(one[key], other[key], f"{path} / {key}")
            else:
                yield f"{path} / {key}: only in the {'first' if key in one else 'second'}"
    elif isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        for number, (first, second) in enumerate(zip(one, other, strict=True)):
            yield from differences(first, second, f"{path}[{number}]")
    elif one != other:
        yield f"{path}: {str(one)[:200]!r} was, {str(other)[:200]!r} is"


def _read(file: Path) -> Any:
    with gzip.open(file, "rt", encoding="utf-8") as told:
        return json.load(told)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    doing = parser.add_subparsers(dest="doing", required=True)
    keep = doing.add_parser("keep")
    keep.add_argument("file", type=Path)
    keep.add_argument("--code", type=Path, default=ROOT, help="the checkout whose core answers")
    keep.add_argument("--only", default="", help="briefs whose name holds this")
    keep.add_argument("--workers", type=int, default=2)
    compare = doing.add_parser("compare")
    compare.add_argument("first", type=Path)
    compare.add_argument("second", type=Path)
    options = parser.parse_args()
    if options.doing == "keep":
        _keep(options.file, options.code.resolve(), options.only, options.workers)
        return 0
    first, second = _read(options.first), _read(options.second)
    both = first.keys() & second.keys()
    found = [line for name in sorted(both) for line in differences(first[name], second[name], name)]
    print(*found[:200], f"{len(both)} briefs compared, {len(found)} differences", sep="\n")
    return 1 if found else 0


if __name__ == "__main__":
    raise SystemExit(main())
