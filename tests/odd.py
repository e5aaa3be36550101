"""Values that nobody means, put into random places of what is sent or read."""

from __future__ import annotations

import copy
import random
from collections.abc import Iterator
from typing import Any

ODD: tuple[Any, ...] = (
    None, "", "abc", -1, 0, 1e9, 1e-300, 1e-12, float("nan"), float("inf"), "NaN", "inf", "1e400", "-5", "2 ft 3 1/2 in", "12 m", True,
    91, 361, 45, 2.5, [], {}, {"a": 1}, [1, 2, 3], [["a", "b"]], [[0, 0]], [[1, 2], [1, 2]],
    [[0, 0], [5, 0], [5, 5], [0, 5]], [[0, 0], [5, 5], [5, 0], [0, 5]],
)  # fmt: skip


def spoiled(value: Any, rng: random.Random, keys: tuple[str, ...] = ()) -> Any:
    """A copy with one or two of its parts (under some ``keys`` only, where given) made odd or left out."""
    made = copy.deepcopy(value)
    for _ in range(rng.randint(1, 2)):
        places = [place for place in _places(made) if place and (not keys or place[0] in keys)]
        *way, last = rng.choice(places)
        part = made
        for step in way:
            part = part[step]
        if rng.random() < 0.15:
            del part[last]
        else:
            part[last] = copy.deepcopy(rng.choice(ODD))
    return made


def _places(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    yield at
    if isinstance(value, dict):
        for key in value:
            yield from _places(value[key], (*at, key))
    elif isinstance(value, list):
        for index in range(len(value)):
            yield from _places(value[index], (*at, index))
