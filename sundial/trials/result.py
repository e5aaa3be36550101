"""What a trial shows: the ratio of its arms with a 95 % interval, and what belongs to the panels, the order and the trace of what lay there before."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from sundial.errors import BriefError
from sundial.trials.model import Repeat, Trial
from sundial.trials.planned import POWER, repeats_needed

Floats = NDArray[np.float64]
LEVEL = 0.95
WEAKER = "Spot readings, each over the sun of its own minute, are the weaker design: a thin cloud between two of them looks like a gain."
MOST_APART = 100.0  # times that one arm may give what the other does: more is a unit mistaken
LEFT_OUT = {
    "shade": "shade came in",
    "throttled": "the battery or a limit held it back",
    "cloud": "it was broken off for cloud",
    "other": "it was broken off",
}


@dataclass(frozen=True)
class Effect:
    """A ratio with its 95 % interval; ``shown``: the interval leaves one out."""

    ratio: float
    low: float
    high: float

    @property
    def shown(self) -> bool:
        return self.low > 1 or self.high < 1


@dataclass(frozen=True)
class RepeatSaid:
    """A repeat (from 1): its ratio of the second arm over the first per nameplate, turned round where it was swapped; ``why`` it does not
    count, empty where it does. The ratio is None where nothing can be divided."""

    number: int
    ratio: float | None
    swapped: bool
    alike: bool
    why: str


@dataclass(frozen=True)
class TrialResult:
    """``ratio`` of the second arm over the first per nameplate with ``low`` and ``high`` (None: too few repeats); ``repeats`` that count;
    ``scatter``: standard deviation of the log ratios; ``repeats_needed`` to show ``gain`` in four trials of five (None: no scatter is known).

    ``panels``: the second position over the first when treated alike, where arms were swapped or an A/A repeat was made; ``carry_over``:
    of each ratio, what came over from the repeat before; ``drift``: the second position against the first from one repeat to the
    next; each None where the repeats cannot tell. ``left``: the ratio with the trace of the repeat before taken out, beside ``carry_over``."""

    arms: tuple[str, str]
    ratio: float
    low: float | None
    high: float | None
    repeats: int
    shown: bool
    scatter: float | None
    repeats_needed: int | None
    gain: float
    said: tuple[RepeatSaid, ...]
    panels: Effect | None
    carry_over: Effect | None
    left: Effect | None
    drift: Effect | None
    raw: float
    notes: tuple[str, ...]
    sentence: str


@dataclass(frozen=True)
class _Fit:
    """Least squares: coefficients and their standard errors, degrees of freedom, residual standard deviation."""

    value: Floats
    error: Floats
    free: int
    scatter: float

    def effect(self, place: int) -> Effect:
        """A coefficient of logs as a ratio with its interval."""
        reach = float(stats.t.ppf((1 + LEVEL) / 2, self.free)) * float(self.error[place])
        middle = float(self.value[place])
        return Effect(exp(middle), exp(middle - reach), exp(middle + reach))


def trial_result(trial: Trial) -> TrialResult:
    """Ratios are of the second arm over the first, per nameplate. With ``y`` the log of position b over position a, each repeat is
    ``y = x * effect + panels``: ``x`` is 1 as set up, -1 swapped, 0 treated alike. Where every ``x`` is the same the panels cannot be told
    apart and count as equal: then this is the mean of the logs with Student's t. BriefError where no repeat can be used.

    Source: the two-treatment crossover, Jones and Kenward, Design and Analysis of Cross-Over Trials (3rd edition, 2014), on paired logs.
    """
    said = tuple(_said(number, repeat, trial) for number, repeat in enumerate(trial.repeats, 1))
    used = [number for number, one in enumerate(said) if not one.why]
    tried = [number for number in used if not said[number].alike]
    if not tried:
        raise BriefError("repeats", _nothing(said))
    y = np.array([_log(trial.repeats[number], trial) for number in used])
    x = np.array([_side(trial.repeats[number]) for number in used])
    one_sided = len(set(x)) == 1
    apart = not one_sided  # whether what belongs to the panels is told apart
    columns = [x] if one_sided else [x, np.ones(len(x))]
    fit = _fit(columns, y)
    if fit is None and len(tried) > 1:  # one of each side: the panels' difference is part of the scatter
        fit = _fit(
            [np.ones(len(tried))],
            np.array([_log(trial.repeats[number], trial) * _side(trial.repeats[number]) for number in tried]),
        )
        apart = False
    turned = [value * side for value, side in zip(y, x, strict=True) if side]
    effect = None if fit is None else fit.effect(0)
    ratio = effect.ratio if effect else exp(float(np.linalg.lstsq(np.column_stack(columns), y, rcond=None)[0][0]))
    panels = None if fit is None or not apart else fit.effect(1)
    # What came before each, and when, counts repeats that are left out too: they lay there all the same.
    before = np.array([_side(trial.repeats[number - 1]) if number else 0.0 for number in used])
    carried = _more(columns, y, before)
    drift = _more(columns, y, np.asarray(np.array(used) - np.mean(used), dtype=np.float64))
    gain = trial.gain if trial.gain is not None else max(abs(ratio - 1), 1e-4)
    scatter = None if fit is None else fit.scatter
    needed = None if not scatter else repeats_needed(gain, scatter, apart)
    found = TrialResult(
        (trial.arms[0], trial.arms[1]), ratio, effect.low if effect else None, effect.high if effect else None, len(tried),
        bool(effect and effect.shown), scatter, needed, gain, said, panels, carried[1] if carried else None,
        carried[0] if carried else None, drift[1] if drift else None, exp(float(np.mean(turned))), (), "",
    )  # fmt: skip
    return TrialResult(
        **{
            **vars(found),
            "notes": _notes(found, one_sided) + ((WEAKER,) if any(trial.repeats[number].spot for number in used) else ()),
            "sentence": _begun(sentence(found)),
        }
    )


def _side(repeat: Repeat) -> float:
    return 0.0 if repeat.alike else -1.0 if repeat.swapped else 1.0


def _log(repeat: Repeat, trial: Trial) -> float:
    return log(repeat.b / trial.nameplate[1]) - log(repeat.a / trial.nameplate[0])


def _said(number: int, repeat: Repeat, trial: Trial) -> RepeatSaid:
    if repeat.a <= 0 or repeat.b <= 0:
        dead = " and ".join(f"position {name}" for name, value in (("a", repeat.a), ("b", repeat.b)) if value <= 0)
        return RepeatSaid(number, None, repeat.swapped, repeat.alike, f"{dead} gave nothing: look at the plug and the meter")
    if abs(_log(repeat, trial)) > log(MOST_APART):
        return RepeatSaid(
            number, None, repeat.swapped, repeat.alike, f"one position gave over {MOST_APART:g} times the other: are both in Wh?"
        )
    ratio = exp(_log(repeat, trial) * (-1 if repeat.swapped and not repeat.alike else 1))
    return RepeatSaid(number, ratio, repeat.swapped, repeat.alike, LEFT_OUT.get(repeat.stopped, ""))


def _nothing(said: Sequence[RepeatSaid]) -> str:
    if any(one.alike and not one.why for one in said):
        return "only repeats with both treated alike are there: nothing was tried yet"
    first = next(one for one in said if one.why)
    return f"none can be used: repeat {first.number}, {first.why}"


def _fit(columns: Sequence[Floats], y: Floats) -> _Fit | None:
    """None where no degree of freedom is left, or the columns cannot be told apart."""
    matrix = np.column_stack(columns)
    free = len(y) - matrix.shape[1]
    if free < 1 or np.linalg.matrix_rank(matrix) < matrix.shape[1]:
        return None
    value: Floats = np.asarray(np.linalg.lstsq(matrix, y, rcond=None)[0], dtype=np.float64)
    variance = float(((y - matrix @ value) ** 2).sum()) / free
    error: Floats = np.asarray(np.sqrt(np.diag(np.linalg.inv(matrix.T @ matrix)) * variance), dtype=np.float64)
    return _Fit(value, error, free, float(np.sqrt(variance)))


def _more(columns: Sequence[Floats], y: Floats, column: Floats) -> tuple[Effect, Effect] | None:
    """The first effect and that of one more column; told only where arms were swapped and two degrees of freedom stay."""
    if len(columns) < 2:
        return None
    fit = _fit([*columns, column], y)
    return None if fit is None or fit.free < 2 else (fit.effect(0), fit.effect(len(columns)))


def signed(ratio: float) -> str:
    """A ratio as per cent more or less, in words."""
    share = round(100 * (ratio - 1), 1)
    return "as much" if abs(share) < 0.05 else f"{abs(share):g} % {'more' if share > 0 else 'less'}"


def beside(ratio: float, other: str) -> str:
    """The same set against a name."""
    share = signed(ratio)
    return f"{share} {'as' if share == 'as much' else 'than'} {other}"


def _begun(text: str) -> str:
    return text[:1].upper() + text[1:]


def sentence(found: TrialResult) -> str:
    """The one sentence of a result, which may say that nothing is shown."""
    first, second = found.arms
    if found.low is None or found.high is None:
        return f"{second} gave {beside(found.ratio, first)} in {found.repeats} repeat{'s' * (found.repeats > 1)}: one more is needed before anything is shown."
    reach = f"{100 * (found.low - 1):+.1f} to {100 * (found.high - 1):+.1f} %".replace("-", "\N{MINUS SIGN}")
    if found.shown:
        return f"{second} gives {beside(found.ratio, first)} ({reach})."
    apart = found.panels
    if apart is not None and abs(apart.ratio - 1) >= 0.005 and abs(log(found.raw)) > abs(log(found.ratio)):
        return f"{signed(found.raw).capitalize()}, but these two panels differ by {100 * abs(apart.ratio - 1):.1f} % when treated alike: not shown ({reach})."
    return f"Not shown: {second} gave {beside(found.ratio, first)}, and the scatter alone gives {reach}."


def _notes(found: TrialResult, one_sided: bool) -> tuple[str, ...]:
    notes = [f"Repeat {one.number} is left out: {one.why}." for one in found.said if one.why]
    if one_sided:
        notes.append("The arms were never swapped or treated alike: a difference of the panels or meters counts as a gain here.")
    if found.carry_over is not None and found.carry_over.shown and found.left is not None:
        notes.append(
            f"Something of the repeat before stays ({signed(found.carry_over.ratio)}): without it the ratio would be "
            f"{found.left.ratio:.3f}. Let the first repeat after a swap pass."
        )
    if found.drift is not None and found.drift.shown:
        notes.append(
            f"The second position gives {signed(found.drift.ratio)} from each repeat to the next, whatever lies there: does one of them get dirty?"
        )
    if found.panels is not None and found.panels.shown:
        notes.append(f"Treated alike, the second position gives {signed(found.panels.ratio)}; that is taken out of the ratio.")
    if found.repeats_needed is not None and not found.shown and found.repeats_needed > found.repeats:
        notes.append(
            f"About {found.repeats_needed} repeats would show a gain of {100 * found.gain:.1f} % in four trials of five ({100 * POWER:.0f} %)."
        )
    return tuple(notes)
