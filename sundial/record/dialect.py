"""How a file of a monitor is written: guessed from its first rows, shown, and confirmed by the person before it is taken in."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from sundial.errors import BriefError

DELIMITERS = (";", "\t", ",", "|")
FORMATS = (
    "ISO8601", "%d.%m.%Y %H:%M", "%d.%m.%Y %H:%M:%S", "%d/%m/%Y %H:%M", "%d/%m/%Y %H:%M:%S", "%m/%d/%Y %H:%M",
    "%m/%d/%Y %H:%M:%S", "%d-%m-%Y %H:%M", "%d-%m-%Y %H:%M:%S", "%Y/%m/%d %H:%M", "%Y/%m/%d %H:%M:%S", "%m/%d/%Y %I:%M:%S %p",
    "%m/%d/%Y %I:%M %p", "%d.%m.%y %H:%M", "%d.%m.%y %H:%M:%S", "unix", "unix ms",
)  # fmt: skip
TIME_HEAD = re.compile(r"time|date|zeit|datum|hora|fecha|stamp|when|heure", re.I)
CLOCK = re.compile(r"^\d{1,2}:\d\d(?::\d\d)?(?: ?[AaPp][Mm])?$")
NUMBER = re.compile(r"^[+-]?\d+(?:[.,]\d+)?(?:[eE][+-]?\d+)?$")
TOTAL_HEAD = re.compile(r"total|lifetime|counter|cumul|meter|gesamt|z.hler|acum|index", re.I)
ENERGY_HEAD = re.compile(r"wh\b|energ|yield|ertrag|produc", re.I)
POWER_HEAD = re.compile(r"power|watt|leistung|potencia|puissance|\bk?w\b|\bp(?:ac|dc)?\b", re.I)
LONGEST_HEAD = 64_000  # bytes that are looked at
PREAMBLE = 40  # lines that may stand before the header
SHOWN = 8
LOOKED_AT, FIRST_ROWS = 6000, 1500  # times by which the way they are written is found
EITHER_WAY = "Day and month could be the other way round: look at the first rows."


@dataclass(frozen=True)
class Columns:
    """Names of a file's columns: of times (``clock``: of the time of day, where ``time`` holds the date alone), and of one of power,
    energy in the interval, or a counter; their unit, the time zone of times without an offset (empty: the site's own clock), and how the
    file is written (empty: guessed). ``skip`` lines stand before the header."""

    time: str = "time"
    power: str = ""
    energy: str = ""
    total: str = ""
    unit: str = ""
    zone: str = ""
    clock: str = ""
    time_format: str = ""
    delimiter: str = ""
    decimal: str = ""
    encoding: str = ""
    skip: int = 0

    @property
    def kind(self) -> str:
        """Of the values: power, energy or total; empty where no column is named."""
        return next((kind for kind in ("power", "energy", "total") if getattr(self, kind)), "")

    @property
    def value(self) -> str:
        """The column of the values."""
        return getattr(self, self.kind) if self.kind else ""


@dataclass(frozen=True)
class Guess:
    """What a file seems to be: its columns' ``heads``, its first ``rows``, how it is to be read, and what was doubtful, in words."""

    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    columns: Columns
    notes: tuple[str, ...] = ()


def guess(data: bytes, nameplate: float | None = None) -> Guess:
    """How a CSV is written, from its first bytes. BriefError where it is no table of times and numbers."""
    encoding = _encoding(data)
    text = data[:LONGEST_HEAD].decode(encoding, errors="replace").lstrip("\ufeff")
    lines = text.splitlines()[: -1 if len(data) > LONGEST_HEAD else None]
    if not any(line.strip() for line in lines):
        raise BriefError("series", "the file is empty")
    if "\0" in text[:10_000]:
        raise BriefError("series", "this is not a text file; give a CSV")
    delimiter, skip = _table(lines)
    rows = [_cells(line, delimiter) for line in lines[skip + 1 :] if line.strip()]
    heads = _cells(lines[skip], delimiter)
    rows = [row for row in rows if len(row) == len(heads)][:400]
    if not rows:
        raise BriefError("series", "holds a header and no rows")
    columns = _columns(heads, rows, nameplate)
    decimal = "," if delimiter != "," and any(re.fullmatch(r"[+-]?\d+,\d+", cell) for row in rows for cell in row) else "."
    notes = [EITHER_WAY] if time_format_of(_times(columns, heads, rows)).open else []
    columns = replace(columns, delimiter=delimiter, decimal=decimal, encoding=encoding, skip=skip)
    return Guess(tuple(heads), tuple(tuple(row) for row in rows[:SHOWN]), columns, tuple(notes))


def _encoding(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    try:
        data[:LONGEST_HEAD].decode("utf-8")
    except UnicodeDecodeError as error:
        if error.start < min(len(data), LONGEST_HEAD) - 4:
            return "cp1252"
    return "utf-8-sig"


def _cells(line: str, delimiter: str) -> list[str]:
    return [cell.strip().strip('"').strip() for cell in line.split(delimiter)]


def _table(lines: Sequence[str]) -> tuple[str, int]:
    """The delimiter, and the line of the header: the one from which most lines have equally many cells, more than one."""
    best: tuple[int, str, int] = (0, ",", 0)
    for delimiter in DELIMITERS:
        counts = [line.count(delimiter) for line in lines[:300]]
        usual = max(set(counts), key=lambda count: (counts.count(count) if count else 0, count))
        if not usual:
            continue
        first = counts.index(usual)
        score = counts.count(usual)
        if first <= PREAMBLE and score > best[0]:
            best = (score, delimiter, first)
    if best[0] < 2:
        raise BriefError("series", "this is not a table: give a CSV with a column of times and a column of numbers")
    return best[1], best[2]


def _columns(heads: Sequence[str], rows: Sequence[Sequence[str]], nameplate: float | None) -> Columns:
    by_column = {head: [row[place] for row in rows] for place, head in enumerate(heads)}
    time, clock, form = _time(by_column)
    numbers = {
        head: cells
        for head, cells in by_column.items()
        if head not in (time, clock) and cells and sum(bool(NUMBER.match(cell)) or not cell for cell in cells) >= 0.9 * len(cells)
    }
    if not numbers:
        raise BriefError("series", f"no column holds numbers; there are: {', '.join(heads)}")
    kind, value = _value(numbers)
    unit = _unit(value, kind, numbers[value], nameplate)
    named = {"power": "", "energy": "", "total": "", kind: value}
    return Columns(time, named["power"], named["energy"], named["total"], unit, clock=clock, time_format=form)


def _time(by_column: dict[str, list[str]]) -> tuple[str, str, str]:
    """The column of times, that of the time of day where it stands apart, and the format."""
    ordered = sorted(by_column, key=lambda head: not TIME_HEAD.search(head))
    clock = next((head for head in ordered if all(CLOCK.match(cell) for cell in by_column[head])), "")
    for head in ordered:
        cells = by_column[head]
        if head == clock or not all(cells[:3]):
            continue
        if ":" in cells[0] or not clock:
            form = time_format_of(cells).form
            if form and (":" in cells[0] or form.startswith("unix")):
                return head, "", form
        if clock:
            both = [f"{day} {hour}" for day, hour in zip(cells, by_column[clock], strict=True)]
            form = time_format_of(both).form
            if form:
                return head, clock, form
    raise BriefError("series", f"no column holds dates with a time of day; there are: {', '.join(by_column)}")


@dataclass(frozen=True)
class TimeFormat:
    """How all times of a file are written (empty: in no known way); ``open``: day and month could as well be the other way round."""

    form: str
    open: bool = False


def time_format_of(cells: Sequence[str], month_first: bool = False) -> TimeFormat:
    """The one way in which a whole column of times is written: of those in which every row can be read, the one under which the rows run
    on most evenly; where two are alike, the usual one of the place (``month_first``), said to be open. Never row by row."""
    told = list(cells)
    if len(told) > LOOKED_AT:  # every row is read in this way later, and refused by its number where it cannot be
        told = told[:FIRST_ROWS] + told[FIRST_ROWS :: max(len(told) // LOOKED_AT, 1)]
    spread = {form: found for form in FORMATS if (found := _spread(told, form)) is not None}
    if not spread:  # one that most rows keep to names the row that does not
        count, form = max((_readable(told, form), form) for form in FORMATS)
        return TimeFormat(form if count > len(told) / 2 else "")
    order = [*spread]
    if month_first:
        order.sort(key=lambda form: not form.startswith("%m"))
    best = min(order, key=lambda form: (form != "ISO8601", spread[form]))
    other = _other_way(best)
    return TimeFormat(best, other != best and other in spread and spread[other] <= spread[best])


def _readable(cells: Sequence[str], form: str) -> int:
    """How many of some times can be read so."""
    import pandas as pd

    if form.startswith("unix"):
        return sum(_parses([cell], form) for cell in cells[:3])
    return int(pd.to_datetime(pd.Series(list(cells)), format=form, errors="coerce", utc=True).notna().sum())


def _spread(cells: Sequence[str], form: str) -> float | None:
    """Seconds from row to row, all together, that some times run on and back when they are read so; None where one cannot be read, or most
    lie weeks apart."""
    import pandas as pd

    if form.startswith("unix"):
        return 0.0 if _parses(cells, form) else None
    if not all(_parses([cell], form) for cell in cells[:2]):
        return None
    found = pd.to_datetime(pd.Series(list(cells)), format=form, errors="coerce", utc=True)
    if found.isna().any():
        return None
    return float(found.diff().dropna().dt.total_seconds().abs().sum())


def _parses(cells: Sequence[str], form: str) -> bool:
    """Whether all of some times can be read so, and do not run backwards day after day."""
    import pandas as pd

    if form.startswith("unix"):
        low = 946_684_800 * (1000 if form == "unix ms" else 1)
        return all(re.fullmatch(r"\d+(\.\d+)?", cell) and low <= float(cell) < 4.2 * low for cell in cells)
    found = pd.to_datetime(pd.Series(list(cells)), format=form, errors="coerce", utc=True)
    if found.isna().any():
        return False
    steps = found.diff().dropna().dt.total_seconds()
    return not len(steps) or bool((steps.abs() < 20 * 86400).all())


def _other_way(form: str) -> str:
    return form.replace("%d", "%_").replace("%m", "%d").replace("%_", "%m")


def _times(columns: Columns, heads: Sequence[str], rows: Sequence[Sequence[str]]) -> list[str]:
    place = list(heads).index(columns.time)
    if not columns.clock:
        return [row[place] for row in rows]
    beside = list(heads).index(columns.clock)
    return [f"{row[place]} {row[beside]}" for row in rows]


def _value(numbers: dict[str, list[str]]) -> tuple[str, str]:
    """The kind of the values and their column, by the header; else a column that only grows is a counter, any other power."""
    for kind, pattern in (("power", POWER_HEAD), ("total", TOTAL_HEAD), ("energy", ENERGY_HEAD)):
        for head in numbers:
            if pattern.search(head) and not (kind == "power" and re.search(r"wh\b", head, re.I)):
                return kind, head
    for head, cells in numbers.items():
        values = [float(cell.replace(",", ".")) for cell in cells if cell]
        if len(values) > 20 and values[-1] > values[0] > 0 and all(a <= b for a, b in zip(values, values[1:], strict=False)):
            return "total", head
    return "power", next(iter(numbers))


def named_unit(head: str, kind: str) -> str:
    """The unit that a header names, where it is one of that kind; else empty."""
    found = re.search(r"(?<![A-Za-z])(kWh|Wh|kW|W)(?![A-Za-z])", head)
    return found.group(1) if found and found.group(1).endswith("h") == (kind != "power") else ""


def _unit(head: str, kind: str, cells: Sequence[str], nameplate: float | None) -> str:
    """The unit that the header names; else by the size of the values against the nameplate."""
    if named := named_unit(head, kind):
        return named
    largest = max((abs(float(cell.replace(",", "."))) for cell in cells if cell), default=0.0)
    if kind == "power":
        return "kW" if nameplate and 0 < largest < nameplate / 100 else "W"
    return "kWh" if kind == "energy" and nameplate and 0 < largest < nameplate / 1000 else "Wh"
