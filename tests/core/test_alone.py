"""The core's tests need no Django, no server and no secret."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
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
