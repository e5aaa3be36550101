"""Change a package of the core a little, over and over, and see whether its tests notice.

    .venv/bin/python scripts/mutate.py wind [--tests tests/core/test_wind.py ...] [--only 'sundial.wind.caps*'] [--sample 60 [--seed 2]]

It stays out of ./check: a package takes from ten minutes to hours. mutmut (BSD-3) makes the changes in a copy of the tree under
``var/mutants``, runs the tests that reach each of them, and remembers what it has done. Printed: how many changes were noticed, and each that was
not, by name; ``--show NAME`` prints one as a diff. With ``--sample`` only so many changes are tried, drawn at random.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import subprocess
import sys
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WORK = ROOT / "var" / "mutants"
TOOL = WORK / "tool"
VERSION = "mutmut==3.8.1"
# The tests of a package, where they are not named after it.
TESTS = {
    "bench": ["test_bench", "test_drive", "test_cells"],
    "record": ["test_record", "test_meters"],
    "diagnosis": ["test_diagnosis"],
    "trials": ["test_trials"],
    "expected": ["test_expected", "test_health"],
    "balance": ["test_balance", "test_use"],
    "wind": ["test_wind", "test_statics", "test_footing"],
    "cutting": ["test_cutting", "test_drilling"],
}
NOTICED = ("killed", "timeout", "segfault", "suspicious")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("package", help="of sundial, such as wind")
    parser.add_argument("--tests", nargs="+", help="test files; left out: those of the package")
    parser.add_argument("--only", nargs="*", default=[], help="names of changes, with wildcards")
    parser.add_argument("--sample", type=int, help="how many changes to try, drawn at random; left out: all")
    parser.add_argument("--seed", type=int, default=1, help="of the draw")
    parser.add_argument("--show", help="print one change and end")
    asked = parser.parse_args()
    if not (ROOT / "sundial" / asked.package).is_dir():
        parser.error(f"sundial has no package {asked.package!r}")
    tests = asked.tests or [
        f"tests/core/{name}.py"
        for name in TESTS.get(asked.package, [f"test_{asked.package}"])
        if (ROOT / "tests" / "core" / f"{name}.py").exists()
    ]
    if not tests:
        parser.error("name the tests of it with --tests")
    tree = _tree(asked.package, tests)
    if asked.show:
        return _mutmut(tree, "show", asked.show).returncode
    names = asked.only
    if asked.sample is not None:
        _mutmut(tree, "run", "no change has this name")  # makes the changes, tries none
        every = sorted(name for name, _ in _states(tree) if name.startswith(f"sundial.{asked.package}."))
        names = random.Random(asked.seed).sample(every, min(asked.sample, len(every)))  # noqa: S311
        print(f"{len(names)} of {len(every)} changes, seed {asked.seed}", flush=True)
    _mutmut(tree, "run", *names)
    return _report(tree, names if asked.sample is not None else None)


def _tree(package: str, tests: list[str]) -> Path:
    """A copy of the core and its tests for one package, as they stand now."""
    tree = WORK / package
    for name in ("sundial", "tests", "docs"):
        shutil.copytree(
            ROOT / name,
            tree / name,
            dirs_exist_ok=True,
            ignore=shutil.ignore_patterns("__pycache__", "web", "browser", "lantern"),
        )
    arguments = ["-p", "no:django", "-p", "no:cacheprovider", "-x", "-q", "-o", "filterwarnings="]
    (tree / "setup.cfg").write_text(
        "[mutmut]\n"
        f"source_paths=sundial/\nonly_mutate=\n    sundial/{package}/*\n"
        "do_not_mutate=\n    sundial/bench/compiled.py\n"  # compiles the code of functions, which mutmut wraps
        "also_copy=\n    sundial\n    docs\n    tests\n"
        "pytest_add_cli_args_test_selection=\n    " + "\n    ".join(tests) + "\n"
        "pytest_add_cli_args=\n    " + "\n    ".join(arguments) + "\n",
        encoding="utf-8",
    )
    return tree


def _mutmut(tree: Path, *words: str, **more: bool) -> subprocess.CompletedProcess[str]:
    if not TOOL.exists():
        subprocess.run(
            [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--target", str(TOOL), VERSION], check=True
        )
        rest = ["click", "libcst", "setproctitle", "textual", "pyyaml", "coverage"]
        subprocess.run([sys.executable, "-m", "pip", "install", "--quiet", "--target", str(TOOL), *rest], check=True)
    return subprocess.run(
        [sys.executable, "-m", "mutmut", *words],
        cwd=tree,
        env={**os.environ, "PYTHONPATH": str(TOOL)},
        check=False,
        text=True,
        **more,
    )


def _states(tree: Path) -> list[tuple[str, str]]:
    """Every change by name, and what became of it."""
    said = _mutmut(tree, "results", "--all", "true", capture_output=True).stdout
    return [(name, state) for name, _, state in (line.strip().rpartition(": ") for line in said.splitlines()) if name]


def _report(tree: Path, names: list[str] | None = None) -> int:
    found = [(name, state) for name, state in _states(tree) if names is None or name in names]
    counts = Counter(state for _, state in found)
    noticed = sum(counts[state] for state in NOTICED)
    judged = noticed + counts["survived"] + counts["no tests"]
    print(f"{noticed} of {judged} changes noticed ({noticed / max(judged, 1):.0%}); {dict(counts)}")
    for name, state in found:
        if state not in (*NOTICED, "not checked"):
            print(f"  {state}: {name}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
