"""A file of a monitor taken in piece by piece: any length in bounded memory, and what cannot be used told by its row."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import IO, Any

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.record.dialect import Columns
from sundial.record.series import LONG_PAST, LONGEST, TO_WATTS, TO_WH, factor_of, times_of
from sundial.sun import Site

Floats = NDArray[np.float64]
ROWS = 50_000  # in one piece
TOO_MUCH = 1.5  # times the nameplate: more is kept aside and asked about
NAMED = 5  # rows of each kind of trouble that are named


@dataclass(frozen=True, eq=False)
class Piece:
    """Some rows: Unix times (n,) and mean power (n,), W; what is kept aside as pairs of both."""

    unix: Floats
    power: Floats
    aside: tuple[tuple[float, float], ...]


@dataclass
class Tally:
    """What was met on the way, in rows; ``named``: the first rows of each kind."""

    rows: int = 0
    unreadable: int = 0
    future: int = 0
    long_past: int = 0
    negative: int = 0
    aside: int = 0
    resets: int = 0
    backwards: int = 0
    gaps: int = 0
    named: dict[str, list[str]] = field(default_factory=dict)

    def name(self, kind: str, words: str) -> None:
        held = self.named.setdefault(kind, [])
        if len(held) < NAMED:
            held.append(words)

    def notes(self) -> list[str]:
        """All of it in words, for a person."""
        told = (
            (self.unreadable, "rows cannot be read and are left out", "unreadable"),
            (self.future, "rows lie in the future and are left out", "future"),
            (self.long_past, "rows are from before 2000, when the monitor's clock was not set: left out", "long_past"),
            (self.aside, f"rows show more than {TOO_MUCH:g} times the nameplate: kept aside until you say", "aside"),
            (self.negative, "rows are below zero, what a monitor takes itself at night: they count as nothing", "negative"),
            (self.backwards, "rows stand out of order: each goes to its own time", "backwards"),
            (self.resets, "times the counter went back: it is taken as begun anew", "resets"),
            (self.gaps, "gaps are left as they are", "gaps"),
        )
        found = []
        for count, words, kind in told:
            if count:
                named = self.named.get(kind)
                found.append(f"{count} {words}{': ' + '; '.join(named) if named else ''}.")
        return found


class Stream:
    """Reads a file with known columns. ``tally`` grows as it goes; ``step`` seconds of an interval, known after the first piece; rows later
    than ``now`` (Unix time) are left out."""

    def __init__(
        self, site: Site, columns: Columns, now: float, nameplate: float | None = None, step: float | None = None
    ) -> None:
        if not columns.kind:
            raise BriefError("series", "say which column holds power, energy or a counter")
        self.site, self.columns, self.nameplate = site, columns, nameplate
        self.now = now
        self.step, self.tally = step, Tally()
        self._seen: frozenset[str] = frozenset()
        self._last: tuple[float, float] | None = None  # time and value before this piece

    def pieces(self, file: IO[bytes], rows: int = ROWS, skip: int = 0) -> Iterator[Piece]:
        """The file's rows, ``rows`` at once, without the first ``skip``. BriefError where a column is missing or it is no CSV."""
        import pandas as pd

        c = self.columns
        first = self.tally.rows + c.skip + 2
        try:
            reader = pd.read_csv(
                file, sep=c.delimiter or ",", dtype=str, encoding=c.encoding or "utf-8-sig", encoding_errors="replace",
                skiprows=[*range(c.skip), *range(c.skip + 1, c.skip + 1 + skip)] if skip else c.skip, chunksize=rows,
                on_bad_lines="skip", skipinitialspace=True, usecols=lambda name: str(name).strip() in self._wanted,
            )  # fmt: skip
        except (ValueError, pd.errors.EmptyDataError) as error:
            raise BriefError("series", f"this is not a CSV: {error}") from None
        try:
            for frame in reader:
                frame.columns = [str(name).strip().lstrip("\ufeff") for name in frame.columns]
                for name in self._wanted:
                    if name not in frame.columns:
                        raise BriefError("series", f"there is no column {name!r}")
                yield self._piece(frame, first + skip)
                first += len(frame)
        except pd.errors.ParserError as error:
            raise BriefError("series", f"this is not a CSV: {error}") from None

    @property
    def _wanted(self) -> tuple[str, ...]:
        return tuple(name for name in (self.columns.time, self.columns.clock, self.columns.value) if name)

    def _piece(self, frame: Any, first: int) -> Piece:
        import pandas as pd

        c, tally = self.columns, self.tally
        text = frame[c.time] if not c.clock else frame[c.time].astype(str) + " " + frame[c.clock].astype(str)
        unix, self._seen = times_of(text, self.site, c, self._seen)
        cells = frame[c.value].fillna("").astype(str).str.strip()
        plain = cells.str.replace(".", "", regex=False).str.replace(",", ".", regex=False) if c.decimal == "," else cells
        values: Floats = pd.to_numeric(plain, errors="coerce").to_numpy(dtype=float)
        empty = cells.isin(["", "nan", "NaN", "None", "-"]).to_numpy()
        tally.rows += len(values)
        good = self._usable(unix, values, empty, text, cells, first)
        unix, values = unix[good], values[good]
        if len(unix) and self._last is not None and unix[0] < self._last[0]:
            tally.backwards += 1
        back = np.diff(unix) < 0
        if back.any():
            tally.backwards += int(back.sum())
            order = np.argsort(unix, kind="stable")
            unix, values = unix[order], values[order]
        return self._with_power(unix, values)

    def _usable(self, unix: Floats, values: Floats, empty: Any, text: Any, cells: Any, first: int) -> NDArray[np.bool_]:
        tally = self.tally
        for kind, wrong, words in (
            ("unreadable", np.isnan(unix), text),
            ("unreadable", ~np.isfinite(values) & ~empty & ~np.isnan(unix), cells),
            ("future", unix > self.now + 3600, text),
            ("long_past", unix < LONG_PAST, text),
        ):
            at = np.flatnonzero(wrong)
            setattr(tally, kind, getattr(tally, kind) + at.size)
            for place in at[:NAMED]:
                tally.name(kind, f"row {first + int(place)}: {str(words.iloc[int(place)])[:30]!r}")
        good: NDArray[np.bool_] = np.isfinite(unix) & np.isfinite(values) & (unix >= LONG_PAST) & (unix <= self.now + 3600)
        return good

    def _with_power(self, unix: Floats, values: Floats) -> Piece:
        c, tally = self.columns, self.tally
        if self.step is None:
            steps = np.diff(unix)
            steps = steps[steps > 0]
            if not steps.size:
                return Piece(np.zeros(0), np.zeros(0), ())
            self.step = float(np.median(steps))
            if not 1 <= self.step <= LONGEST:
                raise BriefError("series", f"has a row every {self.step / 3600:.1f} hours: by the hour or finer is needed")
        tally.gaps += int(((np.diff(unix) > 1.5 * self.step) & (np.diff(unix) < 86400)).sum())
        if c.kind == "power":
            power = values * factor_of(c.unit or "W", TO_WATTS)
        elif c.kind == "energy":
            power = values * factor_of(c.unit or "Wh", TO_WH) * (3600 / self.step)
        else:
            unix, power = self._counted(unix, values * factor_of(c.unit or "Wh", TO_WH))
        if len(unix):
            self._last = (float(unix[-1]), float(values[-1]))
        dark = power < 0
        tally.negative += int(dark.sum())
        power = np.maximum(power, 0.0)
        too_much = power > TOO_MUCH * self.nameplate if self.nameplate else np.zeros(len(power), dtype=bool)
        tally.aside += int(too_much.sum())
        for at, watts in zip(unix[too_much][:NAMED], power[too_much][:NAMED], strict=True):
            tally.name("aside", f"{np.datetime64(int(at), 's')} UTC, {watts:.0f} W")
        aside = tuple(zip(unix[too_much].tolist(), power[too_much].tolist(), strict=True))
        return Piece(unix[~too_much], power[~too_much], aside)

    def _counted(self, unix: Floats, total: Floats) -> tuple[Floats, Floats]:
        """A counter's steps as mean power from the row before to each row, at the row before."""
        if self._last is not None:
            unix = np.concatenate([[self._count_last[0]], unix])
            total = np.concatenate([[self._count_last[1]], total])
        if len(unix):
            self._count_last = (float(unix[-1]), float(total[-1]))
        if len(unix) < 2:
            return np.zeros(0), np.zeros(0)
        grown, apart = np.diff(total), np.diff(unix)
        resets = grown < -1e-6
        self.tally.resets += int(resets.sum())
        use = (apart > 0) & (apart <= 1.5 * (self.step or 1)) & ~resets
        return unix[:-1][use], grown[use] * 3600 / apart[use]

    _count_last: tuple[float, float] = (0.0, 0.0)
