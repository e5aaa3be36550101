"""A backup put back into an empty folder holds the same."""

from __future__ import annotations

import os
import signal
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from web.health import half_restored

ROOT = Path(__file__).parents[2]
PEOPLE = """
from django.contrib.auth.models import User
from web.accounts.demo import demo_brief
from web.accounts.recovery import new_code
from web.builds.briefs import build_from_brief
from web.builds.results import Results
from sundial.brief.read import brief_of
for name in ("zöe", "zoe"):
    user = User.objects.create_user(name, password="a tall walnut 7")
    new_code(user)
    for brief in ("Honey house", "Kiln pergola"):
        build = build_from_brief(user, brief_of(demo_brief(brief)), where="Sorrel Hill ☼")
build.place.take_weather("odd.epw", bytes(range(256)) * 40)
build.place.save()
Results(build).plan
"""
DUMP = """
. scripts/prepare.sh; start_database; trap stop_services EXIT
mariadb-dump --no-defaults --protocol=tcp -h127.0.0.1 -P"$SUNDIAL_DB_PORT" -usundial -p"$SUNDIAL_DB_PASSWORD" --skip-comments \
  --hex-blob --skip-extended-insert --ignore-table-data=sundial.builds_storedresult --ignore-table-data=sundial.django_session sundial
"""


@pytest.fixture
def folders(tmp_path: Path) -> Iterator[tuple[Path, Path]]:
    made = tmp_path / "one", tmp_path / "two"
    yield made
    for folder in made:
        run("bash", "-c", ". scripts/prepare.sh; DB_MINE=1; stop_services", var=folder, check=False)


def run(*command: str, var: Path, check: bool = True) -> str:
    kept = {name: value for name, value in os.environ.items() if not name.startswith("SUNDIAL_")}
    env = {**kept, "SUNDIAL_VAR": str(var), "DJANGO_SETTINGS_MODULE": "web.settings"}
    done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True, timeout=600, check=False)
    assert done.returncode == 0 or not check, done.stdout + done.stderr
    return done.stdout if done.returncode == 0 else f"refused: {done.stderr}"


def test_a_backup_put_back_into_an_empty_folder_holds_the_same(folders, tmp_path):
    one, two = folders
    saved = tmp_path / "saved.tar.gz"
    run("./start", "--prepare", "--no-demo", var=one)
    run(
        "bash",
        "-c",
        f". scripts/prepare.sh; start_database; start_broker; trap stop_services EXIT; \"$PY\" manage.py shell -c '{PEOPLE}'",
        var=one,
    )
    run("./backup", str(saved), var=one)
    assert saved.stat().st_mode & 0o077 == 0  # for its owner only
    assert "Restored 2 accounts and 4 builds" in run("./restore", str(saved), var=two)
    before, after = (run("bash", "-c", DUMP, var=folder) for folder in folders)
    assert "zöe" in before and "0x000102030405" in before
    assert before == after
    # It never overwrites by itself, and a damaged file is refused before anything is touched.
    assert "accounts here already" in run("./restore", str(saved), var=two, check=False)
    data = bytearray(saved.read_bytes())
    data[len(data) // 2] ^= 0xFF
    (tmp_path / "damaged.tar.gz").write_bytes(data)
    refused = run("./restore", str(tmp_path / "damaged.tar.gz"), "--replace", var=two, check=False)
    assert "damaged" in refused or "cut short" in refused
    assert run("bash", "-c", DUMP, var=two) == after
    broken_off(saved, two)
    assert run("bash", "-c", DUMP, var=two) == after


def broken_off(saved: Path, var: Path) -> None:
    """A restore that is killed half-way: nothing takes half of it for all, and running it again brings everything back."""
    kept = {name: value for name, value in os.environ.items() if not name.startswith("SUNDIAL_")}
    killed = subprocess.Popen(
        ["./restore", str(saved), "--replace"], cwd=ROOT, env={**kept, "SUNDIAL_VAR": str(var)}, start_new_session=True,
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    for _ in range(1200):
        if (var / "restoring").exists():
            break
        time.sleep(0.05)
    os.killpg(killed.pid, signal.SIGKILL)
    killed.wait(20)
    assert (var / "restoring").exists() and list(var.glob("restore.*"))
    refused = run("./start", "--prepare", "--no-demo", var=var, check=False)
    assert "broken off" in refused and str(saved) in refused
    with override_environment(SUNDIAL_DB_PORT_FILE=str(var / "mariadb.port")):
        assert half_restored()
    # A number that another program has by now holds nothing up.
    (var / "users" / str(os.getpid())).write_text("1\n")
    assert "Restored 2 accounts and 4 builds" in run("./restore", str(saved), var=var)
    assert not (var / "restoring").exists() and not list(var.glob("restore.*"))


@contextmanager
def override_environment(**told: str) -> Iterator[None]:
    held = {name: os.environ.get(name) for name in told}
    os.environ.update(told)
    try:
        yield
    finally:
        for name, value in held.items():
            os.environ.pop(name, None) if value is None else os.environ.__setitem__(name, value)
