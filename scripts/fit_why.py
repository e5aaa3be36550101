"""Count how often each sign shows under each cause, on played days, and write it into the rule base: sundial/diagnosis/data/likelihoods.json.

Usage: python scripts/fit_why.py [DAYS], or --table for how the interview fares on days of other builds. The played days are of other builds and other seeds than those of the tests.
"""

from __future__ import annotations

import json
import sys
from collections import Counter
from pathlib import Path

from sundial.brief.read import brief_of
from sundial.diagnosis.faults import CAUSES
from sundial.diagnosis.played import cases, interviewed, signs_of_played
from sundial.diagnosis.signs import SIGNS
from sundial.study import Study, studied

FLOOR = 0.03  # of every likelihood: surprises that the played days lack
SEED = 4001
# latitude, longitude, elevation, rows, columns, tilt; rows are the strings where there are several
PLACES = [
    (47.2, 8.1, 450, 2, 3, 38),
    (39.9, -3.8, 640, 1, 4, 25),
    (33.4, -111.8, 400, 2, 5, 20),
    (-37.6, 144.9, 120, 1, 3, 35),
    (55.7, 12.4, 20, 2, 4, 42),
]
SEVERAL = [(44.1, 9.9, 80, 2, 5, 35), (30.2, -97.8, 160, 3, 3, 30)]
ZONES = [
    "Europe/Zurich",
    "Europe/Madrid",
    "America/Phoenix",
    "Australia/Melbourne",
    "Europe/Copenhagen",
    "Europe/Rome",
    "America/Chicago",
]
TARGET = Path(__file__).resolve().parent.parent / "sundial" / "diagnosis" / "data" / "likelihoods.json"


def study(number: int) -> Study:
    """One of the builds that are counted on."""
    latitude, longitude, elevation, rows, columns, tilt = (PLACES + SEVERAL)[number]
    label = {
        "voc": 37.2,
        "isc": 14.2,
        "vmp": 31.1,
        "imp": 13.85,
        "beta": -0.0027,
        "input": {"max_voltage": 600, "window": [80, 500], "max_current": 16},
    }
    return studied(
        brief_of(
            {
                "format": "crooked-sundial-brief", "version": 1, "name": f"Counted {number}", "electrics": label, "sky": {"kind": "world"},
                "site": {"latitude": latitude, "longitude": longitude, "elevation": elevation, "timezone": ZONES[number]},
                "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034, "blocks": 3},
                "array": {"rows": rows, "columns": columns, "azimuth": 0 if latitude < 0 else 180, "clearance": 0.5},
                "mount": {"kind": "fixed", "tilt": tilt},
                **({"wiring": by_rows(rows, columns)} if number >= len(PLACES) else {}),
            }
        )
    )  # fmt: skip


def by_rows(rows: int, columns: int) -> dict[str, object]:
    """A wiring with a string to each row, side by side on one input."""
    return {"kind": "parallel", "strings": [[row * columns + column + 1 for column in range(columns)] for row in range(rows)]}


def table(count: int = 500, seed: int = 23) -> str:
    """The confusion of ``count`` played days of other builds, as Markdown: hidden down, named first across."""
    from tests.core.test_diagnosis import builds

    told = [interviewed(day, season) for _, day, season in cases(builds(), count, seed, evenly=True)]
    rows = [
        f"| {' | '.join(['hidden', 'days', 'named first', 'among three', 'taken for'])} |",
        "| --- | ---: | ---: | ---: | --- |",
    ]
    for cause in CAUSES:
        own = [one for one in told if one.hidden == cause]
        if own:
            wrong = Counter(one.named[0] for one in own if one.named[0] != cause)
            taken = ", ".join(f"{name} {number}" for name, number in wrong.most_common())
            first, three = sum(one.named[0] == cause for one in own), sum(cause in one.named for one in own)
            rows.append(f"| {cause} | {len(own)} | {first} | {three} | {taken} |")
    return "\n".join(rows)


def main() -> None:
    if "--table" in sys.argv:
        print(table())
        return
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 6000
    seen = {sign: {value: dict.fromkeys(CAUSES, 0.0) for value in values} for sign, values in SIGNS.items()}
    of = dict.fromkeys(CAUSES, 0)
    one, several = [study(number) for number in range(len(PLACES))], [study(number) for number in range(len(PLACES), len(ZONES))]
    played = [day for _, day, _ in cases(one, count, SEED, evenly=True)]
    played += [day for _, day, _ in cases(several, count, SEED, evenly=True) if day.causes == ("string",)]
    for day in played:
        of[day.causes[0]] += 1
        for sign, value in signs_of_played(day).items():
            seen[sign][value][day.causes[0]] += 1
    signs = {
        sign: {
            value: {
                cause: round((1 - FLOOR) * number / max(sum(row[cause] for row in values.values()), 1) + FLOOR / len(values), 4)
                for cause, number in by.items()
            }
            for value, by in values.items()
        }
        for sign, values in seen.items()
    }
    source = f"Counted by scripts/fit_why.py on {count} played days of {len(PLACES)} builds of one string, what only several can lose on as many of {len(SEVERAL)} others, seed {SEED}, {FLOOR:.0%} of each spread evenly for surprises"
    TARGET.write_text(json.dumps({"source": source, "signs": signs}, indent=1) + "\n", encoding="utf-8")
    print(of)


if __name__ == "__main__":
    main()
