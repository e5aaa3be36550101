"""The core's tests need no Django, no server and no secret."""

from __future__ import annotations

import ast
import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
CLOCKS = {"time", "monotonic", "perf_counter", "now", "today", "utcnow"}  # of time, datetime, date
WITHOUT = """
import sys
sys.modules["django"] = None  # whoever imports it fails
import pytest
sys.exit(pytest.main(["--collect-only", "-qq", "-p", "no:django", "-p", "no:cacheprovider", "tests/core"]))
"""


def test_the_cores_tests_are_found_without_django_server_or_secret():
    kept = {name: value for name, value in os.environ.items() if not name.startswith(("SUNDIAL_", "DJANGO_", "PYTEST_"))}
    found = subprocess.run([sys.executable, "-c", WITHOUT], cwd=ROOT, env=kept, capture_output=True, text=True, check=False)
    assert found.returncode == 0, found.stdout[-2000:] + found.stderr[-2000:]
    assert "tests/core/test_shade.py" in found.stdout


def _reads_a_clock(node: ast.AST) -> bool:
    if isinstance(node, ast.Import):
        return any(one.name == "time" for one in node.names)
    if isinstance(node, ast.ImportFrom):
        return node.module == "time"
    called = node.func if isinstance(node, ast.Call) else None
    return (
        isinstance(called, ast.Attribute)
        and called.attr in CLOCKS
        and isinstance(called.value, ast.Name)
        and called.value.id in ("time", "datetime", "date")
    )


def test_no_rule_reads_a_clock():
    """What time it is and how long something took is told from outside: the same question has the same answer at every hour."""
    found = [
        f"{path.relative_to(ROOT)}:{node.lineno}"
        for path in sorted((ROOT / "sundial").rglob("*.py"))
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if _reads_a_clock(node)
    ]
    assert not found


def test_a_clock_that_is_read_is_seen():
    assert [_reads_a_clock(ast.parse(code).body[0]) for code in ("import time", "from time import monotonic", "import timeit")] == [
        True, True, False,
    ]  # fmt: skip
    assert _reads_a_clock(ast.parse("date.today()", mode="eval").body)
