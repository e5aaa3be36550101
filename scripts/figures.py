"""Every figure that the command line and the pages tell of the demo builds, as one JSON file; and what differs between two.

.venv/bin/python scripts/figures.py dump BRIEFS OUT     answers about every brief in a folder, and the demo's pages
.venv/bin/python scripts/figures.py diff BEFORE AFTER   exit 1 where any figure differs
"""

from __future__ import annotations

import html
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
GOALS = ("year", "winter", "worst-month")
QUESTIONS: dict[str, list[str]] = {
    "sun": ["sun", "--at", "2026-06-21T13:00"],
    "sky": ["sky"],
    "plane": ["plane"],
    "plane 27 east": ["plane", "--tilt", "27", "--azimuth", "97"],
    **{f"schedule {k} {goal}": ["schedule", "--moves", k, "--goal", goal] for k in ("1", "2", "4", "12") for goal in GOALS},
    "schedule 2 all": ["schedule", "--moves", "2", "--tilts", "all"],
    "schedule 3 irradiation": ["schedule", "--moves", "3", "--by", "irradiation"],
    "compare": ["compare"],
    "shade": ["shade"],
    "yard": ["yard", "--grid", "3", "--season", "winter"],
    "spots": ["spots", "--best", "2"],
}


def dump(briefs: Path, out: Path) -> None:
    found: dict[str, Any] = {}
    for brief in sorted(briefs.glob("*.json")):
        for name, (command, *options) in QUESTIONS.items():
            run = [sys.executable, "-W", "ignore", "-m", "sundial", command, str(brief), *options]
            done = subprocess.run(run, capture_output=True, text=True, check=False, cwd=ROOT)
            found[f"{brief.stem}: {name}"] = json.loads(done.stdout) if done.returncode == 0 else done.stderr.strip()
    found |= pages()
    out.write_text(json.dumps(found, indent=1, ensure_ascii=False))


def pages() -> dict[str, list[str]]:
    """The words and numbers of every station of the demo's builds, as a person reads them."""
    if "SUNDIAL_DB_PORT" not in os.environ:
        return {}
    os.environ["DJANGO_SETTINGS_MODULE"] = "web.settings"
    sys.path.insert(0, str(ROOT))
    import django

    django.setup()
    from django.contrib.auth.models import User
    from django.test import Client

    browser, found = Client(headers={"host": "127.0.0.1"}), {}
    person = User.objects.get(username="demo")
    browser.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    for build in person.builds.filter(deleted_at=None).order_by("name", "pk"):
        for station in ("place", "shade", "frame", "tilt", "worth"):
            text = browser.get(f"/builds/{build.pk}/{station}/").content.decode()
            main = text[text.index('<main id="main"') : text.index("</main>")]
            words = re.sub(r"<(script|style|svg)\b.*?</\1>|csrfmiddlewaretoken\"[^>]*>", " ", main, flags=re.DOTALL)
            drawn = re.findall(r'data-(?:values|rack-data|document|window|size)="([^"]*)"', main)
            spoken = html.unescape(re.sub(r"<[^>]+>", " ", words)).split()
            found[f"{build.name}: page {station}"] = [*spoken, *map(html.unescape, drawn)]
    return found


def diff(before: Any, after: Any, path: str = "") -> list[str]:
    """Paths at which two dumps differ, with both values."""
    if isinstance(before, dict) and isinstance(after, dict):
        keys = [*before, *(key for key in after if key not in before)]
        return [line for key in keys for line in diff(before.get(key), after.get(key), f"{path} / {key}" if path else key)]
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return [line for i, pair in enumerate(zip(before, after, strict=True)) for line in diff(*pair, f"{path}[{i}]")]
    return [] if before == after else [f"{path}: {str(before)[:160]} -> {str(after)[:160]}"]


def main() -> int:
    what, *paths = sys.argv[1:]
    if what == "dump":
        dump(Path(paths[0]), Path(paths[1]))
        return 0
    lines = diff(*(json.loads(Path(path).read_text()) for path in paths))
    print("\n".join(lines) if lines else "Every figure is equal.")
    return 1 if lines else 0


if __name__ == "__main__":
    sys.exit(main())
