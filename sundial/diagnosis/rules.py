"""The rule base and what follows from evidence: how likely each cause is, alone or with one other, and why."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from itertools import combinations
from math import log

import numpy as np
from numpy.typing import NDArray

from sundial.diagnosis.faults import CAUSES
from sundial.diagnosis.signs import SIGNS
from sundial.errors import BriefError

Floats = NDArray[np.float64]
TWO = 0.25  # of the product of their priors: how often two causes come together
TOGETHER = 0.75  # of the weight of each sign: signs of one day hang together, and counted in full they would be too sure
WHY = 3  # reasons told for a suspect
TELLS = 1.25  # a piece of evidence this much likelier under a cause than on the average is a reason for it
CLASH = 0.12  # two pieces of evidence this much rarer together than apart contradict each other


@dataclass(frozen=True)
class Cause:
    """One cause: its ``name``, what it ``means`` in a sentence, prior ``weight`` and how ``cold`` or ``hot`` months and a recent change multiply
    it, the ``check`` that settles it with its ``minutes`` and ``caution``, the ``remedy``, and whether anything is ``wrong`` at all."""

    key: str
    name: str
    means: str
    weight: float
    cold: float
    hot: float
    changed: float
    check: str
    minutes: float
    caution: str
    remedy: str
    wrong: bool
    settles: str

    @property
    def short(self) -> str:
        """The name within a sentence."""
        name = self.name.rpartition(": ")[2]
        return name[:1].lower() + name[1:]


@dataclass(frozen=True)
class Question:
    """One question of the interview: ``text``, ``answers`` with their words, ``minutes`` it costs, ``caution``, and words for each answer as a
    reason."""

    key: str
    text: str
    answers: tuple[tuple[str, str], ...]
    minutes: float
    caution: str
    says: Mapping[str, str]


@dataclass(frozen=True, eq=False)
class RuleBase:
    """Causes and questions by key, words for the signs, and ``likelihood[evidence][value]`` (causes,): how likely that value is under each
    cause alone. Source: data/causes.json, questions.json, likelihoods.json."""

    causes: Mapping[str, Cause]
    questions: Mapping[str, Question]
    signs: Mapping[str, Mapping[str, str]]
    likelihood: Mapping[str, Mapping[str, Floats]]

    def words(self, evidence: str, value: str) -> str:
        """A piece of evidence in words, as a reason."""
        if evidence in self.questions:
            return self.questions[evidence].says[value]
        return self.signs[evidence][value]


def _read(name: str) -> dict[str, object]:
    found: dict[str, object] = json.loads((files("sundial.diagnosis") / "data" / f"{name}.json").read_text("utf-8"))
    return found


@cache
def rule_base() -> RuleBase:
    """The rules as shipped."""
    told, asked, counted = _read("causes"), _read("questions"), _read("likelihoods")
    causes = {key: Cause(key, **told[key]) for key in CAUSES}  # type: ignore[arg-type]
    questions, likelihood = {}, {}
    for key, one in asked["questions"].items():  # type: ignore[attr-defined]
        answers = tuple((value, words) for value, words in one["answers"].items())
        questions[key] = Question(key, one["text"], answers, one["minutes"], one["caution"], one["says"])
        likelihood[key] = _asked(one)
    for sign, values in counted["signs"].items():  # type: ignore[attr-defined]
        likelihood[sign] = {value: np.array([values[value][key] for key in CAUSES]) for value in SIGNS[sign]}
    return RuleBase(causes, questions, asked["signs"], likelihood)  # type: ignore[arg-type]


def _asked(one: Mapping[str, Mapping[str, Mapping[str, float]]]) -> dict[str, Floats]:
    """Likelihoods (causes,) of each answer: those told for a cause, for all others the usual ones."""
    usual, own = one["usual"], one["by_cause"]
    table = np.array([[own.get(key, usual).get(value, usual[value]) for value in one["answers"]] for key in CAUSES])
    table = table / table.sum(axis=1, keepdims=True)
    return {value: table[:, place] for place, value in enumerate(one["answers"])}


@dataclass(frozen=True)
class Season:
    """What is known before anything is looked at: ``cold``, ``mild`` or ``hot`` month, how ``cloudy`` it is here then (0 to 1), whether something
    was ``changed`` in the last weeks, days since rain or cleaning (None: not known), whether a planned move is overdue by more than 5 degrees,
    and whether this build could have each cause at all (``impossible``)."""

    temperature: str = "mild"
    cloudy: float = 0.4
    changed: bool = False
    dry_days: float | None = None
    overdue: bool = False
    impossible: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Suspect:
    """A cause with its probability (alone or with another) and the pieces of evidence that speak most for it, in words."""

    cause: Cause
    probability: float
    why: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Judged:
    """Suspects, likeliest first; ``pair``: two causes that are likelier together than any alone, with their probability; ``clashes``: pairs of
    evidence that contradict each other, in words."""

    suspects: tuple[Suspect, ...]
    pair: tuple[str, str, float] | None
    clashes: tuple[tuple[str, str], ...]
    hypotheses: Floats


PAIRS = tuple(combinations(range(len(CAUSES)), 2))
NORMAL = {
    "curve": ("smooth",), "level": ("right",), "shape": ("even",), "volts": ("right",), "amps": ("right",), "look": ("fair",),
    "sky": ("clear",), "glass": ("clean",), "edges": ("free",), "tilt": ("as told",), "facing": ("as told",), "load": ("same",),
    "battery": ("not full",), "shadow": ("none",), "since": ("unknown",), "cable": ("cool",), "voc": ("right",), "range": ("higher",),
    "clock": ("right",), "air": ("open",), "plug": ("tight",),
}  # fmt: skip


def priors(season: Season) -> Floats:
    """Probability of each cause (causes,) before anything is looked at. The weights are ours (thumb)."""
    base = rule_base()
    found = np.array([_weight(base.causes[key], season) for key in CAUSES])
    return np.asarray(found / found.sum(), dtype=np.float64)


def _weight(cause: Cause, season: Season) -> float:
    weight = cause.weight * {"cold": cause.cold, "hot": cause.hot}.get(season.temperature, 1.0)
    if season.changed:
        weight *= cause.changed
    if cause.key == "cloud":
        weight *= 0.4 + 1.5 * season.cloudy
    if cause.key == "dirt" and season.dry_days is not None:
        weight *= min(max(season.dry_days / 20, 0.15), 3.0)
    if cause.key == "angle" and season.overdue:
        weight *= 4
    return 0.0 if cause.key in season.impossible else weight


def judged(evidence: Mapping[str, str], season: Season = Season()) -> Judged:  # noqa: B008 - frozen
    """How likely each cause is. Evidence counts as independent given the causes (naive Bayes); of two causes together an odd value is shown
    when either shows it. BriefError for a question or an answer that is not known."""
    check(evidence)
    base, prior = rule_base(), priors(season)
    weights = log_weights(evidence, prior)
    found = np.exp(weights - weights.max())
    found /= found.sum()
    alone = found[: len(CAUSES)]
    total = alone.copy()
    for (first, second), share in zip(PAIRS, found[len(CAUSES) :], strict=True):
        total[first] += share
        total[second] += share
    order = np.argsort(-total, kind="stable")
    suspects = tuple(
        Suspect(base.causes[CAUSES[place]], float(min(total[place], 1.0)), _why(evidence, int(place), prior)) for place in order
    )
    best = int(np.argmax(found))
    pair = None
    if best >= len(CAUSES):
        first, second = PAIRS[best - len(CAUSES)]
        pair = (CAUSES[first], CAUSES[second], float(found[best]))
    return Judged(suspects, pair, _clashes(evidence, prior), found)


def check(evidence: Mapping[str, str]) -> None:
    """BriefError naming a piece of evidence that is not known, or a value that it cannot have."""
    base = rule_base()
    for name, value in evidence.items():
        known = base.likelihood.get(name)
        if known is None:
            raise BriefError(f"answers.{name}", f"is not a question; there are: {', '.join(base.likelihood)}")
        if value not in known:
            raise BriefError(f"answers.{name}", f"{value!r} is not an answer; there are: {', '.join(known)}")


def log_weights(evidence: Mapping[str, str], prior: Floats) -> Floats:
    """Log of prior times likelihood of each hypothesis (causes + pairs,)."""
    with np.errstate(divide="ignore"):
        weights = np.concatenate([np.log(prior), [log(TWO) + np.log(prior[a]) + np.log(prior[b]) for a, b in PAIRS]])
        for name, value in evidence.items():
            weights = weights + (TOGETHER if name in SIGNS else 1.0) * np.log(of_hypotheses(name)[value])
    return weights


@cache
def of_hypotheses(name: str) -> dict[str, Floats]:
    """Likelihood of each value of a piece of evidence under every hypothesis (causes + pairs,)."""
    alone = rule_base().likelihood[name]
    normal = NORMAL[name][0]
    first, second = (np.array([pair[side] for pair in PAIRS]) for side in (0, 1))
    calm = alone[normal][first] * alone[normal][second]
    odd = {value: alone[value][first] + alone[value][second] for value in alone if value != normal}
    scale = (1 - calm) / np.maximum(sum(odd.values()), 1e-12)
    found = {value: np.concatenate([alone[value], odd[value] * scale]) for value in odd}
    return found | {normal: np.concatenate([alone[normal], calm])}


def _why(evidence: Mapping[str, str], place: int, prior: Floats) -> tuple[str, ...]:
    """The pieces of evidence that speak most for a cause, strongest first."""
    base = rule_base()
    told = []
    for name, value in evidence.items():
        under = base.likelihood[name][value]
        told.append((float(under[place] / max(float((under * prior).sum()), 1e-9)), base.words(name, value)))
    told.sort(key=lambda pair: -pair[0])
    return tuple(words for ratio, words in told[:WHY] if ratio >= TELLS)


def _clashes(evidence: Mapping[str, str], prior: Floats) -> tuple[tuple[str, str], ...]:
    """Pairs of evidence that go together far less often than by chance, the worst first."""
    base = rule_base()
    weights = np.exp(log_weights({}, prior))
    weights /= weights.sum()
    found = []
    for one, other in combinations(evidence, 2):
        first, second = of_hypotheses(one)[evidence[one]], of_hypotheses(other)[evidence[other]]
        together = float((weights * first * second).sum())
        apart = float((weights * first).sum() * (weights * second).sum())
        if together < CLASH * apart:
            found.append((together / apart, (base.words(one, evidence[one]), base.words(other, evidence[other]))))
    return tuple(words for _, words in sorted(found)[:2])


def entropy(weights: Floats) -> float:
    """Bits of a distribution (n,)."""
    some = weights[weights > 0]
    return float(-(some * np.log2(some)).sum())


@dataclass(frozen=True)
class Asked:
    """The question to ask next, with the bits that it is expected to bring."""

    question: Question
    bits: float

    @property
    def rate(self) -> float:
        """Bits a minute; half a minute goes to reading the question."""
        return self.bits / (self.question.minutes + 0.5)


SURE = 0.9
LITTLE = 0.04  # bits: a question that brings less is not asked


def next_questions(found: Judged, evidence: Mapping[str, str], possible: Sequence[str] | None = None) -> tuple[Asked, ...]:
    """Questions that are still open, the greatest expected information a minute first; empty where none brings anything."""
    base = rule_base()
    now = entropy(found.hypotheses)
    asked = []
    for key, question in base.questions.items():
        if key in evidence or (possible is not None and key not in possible):
            continue
        left = 0.0
        for value, _ in question.answers:
            weights = found.hypotheses * of_hypotheses(key)[value]
            chance = float(weights.sum())
            if chance > 0:
                left += chance * entropy(weights / chance)
        if now - left >= LITTLE:
            asked.append(Asked(question, now - left))
    return tuple(sorted(asked, key=lambda one: -one.rate))


def settled(found: Judged) -> bool:
    """Whether nothing more need be asked: one suspect is sure enough, or both of a pair are."""
    return found.suspects[0].probability >= SURE or (found.pair is not None and found.pair[2] >= SURE)
