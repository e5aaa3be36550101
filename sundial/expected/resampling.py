"""Days drawn again in runs: the circular block bootstrap (Politis and Romano 1992, in Exploring the Limits of Bootstrap, 263-270)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

RUN = 3  # days that stay together, as weather and dirt make neighbours alike


def in_runs(count: int, draws: int, random: np.random.Generator) -> NDArray[np.int64]:
    """Places (draws, count) of ``count`` days drawn again with replacement, in runs of three that go round from the last to the first."""
    starts = random.integers(0, count, size=(draws, -(-count // RUN)))
    places: NDArray[np.int64] = ((starts[:, :, None] + np.arange(RUN)) % count).reshape(draws, -1)[:, :count]
    return places
