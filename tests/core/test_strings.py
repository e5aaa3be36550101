"""Panels wired together: who shares a current, and what a string makes of unequal light, by hand."""

from __future__ import annotations

import numpy as np
import pytest

from sundial.errors import BriefError
from sundial.shade.strings import Wired, Wiring, best_share

STRINGS = [np.array([0, 2]), np.array([1, 3, 4])]
WIRED = Wired(STRINGS)


def test_best_share_of_a_string():
    """0.9 / 3 = 0.3, 2 x 0.7 / 3 = 0.467, 3 x 0.4 / 3 = 0.4; then all alike, and one in the dark."""
    currents = np.array([[0.4, 0.9, 0.7], [0.6, 0.6, 0.6], [1.0, 0.0, 1.0]])
    np.testing.assert_allclose(best_share(currents), [1.4 / 3, 0.6, 2 / 3])
    assert best_share(np.array([0.3])) == pytest.approx(0.3)


def test_strings_are_ranked_one_after_the_other():
    currents = np.array([[0.1, 0.5, 1.0, 0.8, 0.6], [0.9, 0.2, 0.3, 0.4, 0.1]])
    np.testing.assert_array_equal(WIRED.ranked(currents), [[1.0, 0.1, 0.8, 0.6, 0.5], [0.9, 0.3, 0.4, 0.2, 0.1]])


def test_every_string_counts_by_its_panels():
    """Two sections at 0.5 of theirs and three at 0.5: (2 x 0.5 + 3 x 0.5) / 5; in the second hour 0.45 and 0.4 / 3."""
    ranked = WIRED.ranked(np.array([[1.0, 0.5, 0.2, 0.8, 0.6], [0.9, 0.2, 0.3, 0.4, 0.1]]))
    np.testing.assert_allclose(WIRED.share(ranked), [0.5, (2 * 0.45 + 3 * 0.4 / 3) / 5])
    one = Wired([np.arange(4)])
    # Three close together: their mean 2.9 / 3 less 16 times their variance 1 / 450 over it.
    held = 2.9 / 3 - 16 / 450 / (2.9 / 3)
    np.testing.assert_allclose(one.share(np.array([[1.0, 1.0, 0.9, 0.3]])), [3 * held / 4])


def single_diode_power(light: np.ndarray) -> float:
    """Best power of sections in series, each 18 single-diode cells with a bypass diode, under different light."""
    from pvlib.pvsystem import v_from_i

    current, total = np.linspace(0.3, 14, 1200), np.zeros(1200)
    thermal = 1.1 * 18 * 0.02569  # V
    for share in np.unique(light):
        volts = v_from_i(current, 13.8 * share, 13.8 / np.exp(0.69 * 18 / thermal), 0.063, 300.0, thermal)
        total += np.maximum(np.where(np.isfinite(volts), volts, -9), -0.4) * (light == share).sum()
    return float((current * total).max())


def test_a_little_less_light_on_some_sections_costs_little():
    """Against single-diode strings: one of twelve 5 % dimmer, light that falls off evenly, and random lots."""
    full = single_diode_power(np.ones(12)) / 12
    rng = np.random.default_rng(4)
    errors = []
    for number in range(60):
        count = int(rng.choice([6, 9, 12, 24]))
        light = np.ones(count)
        if number % 3 == 0:
            light -= rng.uniform(0, 0.15) * rng.uniform(0, 1, count)
        elif number % 3 == 1:
            light[: rng.integers(1, count // 3 + 1)] -= rng.uniform(0, 0.2)
        else:
            light[: rng.integers(1, count)] = rng.uniform(0.2, 1)
        errors.append(best_share(light) - single_diode_power(light) / full / count)
    assert np.sqrt(np.mean(np.square(errors))) < 0.025
    assert -0.02 < np.mean(errors) < 0.005, "the most current of the dimmest alone would miss by 3.5 %"
    for light, lost in ((np.r_[0.95, np.ones(11)], 0.01), (np.linspace(0.9, 1, 24), 0.07)):
        assert 1 - best_share(light) == pytest.approx(1 - single_diode_power(light) / full / len(light), abs=0.009)
        assert 1 - best_share(light) < lost


def test_voltages_part_where_strings_bypass_different_shares():
    """A string's voltage: the share of its sections that carry current at its best."""
    alike = [1.0, 1.0, 1.0, 1.0, 1.0]
    first_bypasses = [1.0, 1.0, 0.2, 1.0, 1.0]  # 1 of 2 against 3 of 3
    both_bypass = [1.0, 1.0, 0.2, 1.0, 0.1]  # 1 of 2 against 2 of 3
    found = WIRED.parted(WIRED.ranked(np.array([alike, first_bypasses, both_bypass])))
    assert found.tolist() == [False, True, True]
    twins = Wired([np.array([0, 1]), np.array([2, 3])])
    assert twins.parted(twins.ranked(np.array([[1.0, 0.2, 0.9, 0.1], [1.0, 0.2, 1.0, 1.0]]))).tolist() == [False, True]
    long = Wired([np.arange(25), np.arange(25, 50)])
    dark = np.ones((1, 50))
    dark[0, 0] = 0.1  # 24 of 25 against 25 of 25: 0.04 apart
    assert not long.parted(long.ranked(dark)).any()


@pytest.mark.parametrize(
    ("wiring", "groups"),
    [
        (Wiring(), [[0, 1, 2, 3]]),
        (Wiring("own"), [[0], [1], [2], [3]]),
        (Wiring("own", ((1, 2, 3, 4),)), [[0], [1], [2], [3]]),
        (Wiring("parallel"), [[0, 1, 2, 3]]),
        (Wiring("series", ((4, 2, 1, 3),)), [[3, 1, 0, 2]]),
        (Wiring("parallel", ((4, 2), (1, 3))), [[3, 1], [0, 2]]),
    ],
)
def test_panels_that_share_a_current(wiring, groups):
    assert wiring.groups(4) == groups


@pytest.mark.parametrize(
    ("wiring", "path", "words"),
    [
        (Wiring("parallel", ((1, 2, 3, 4), ())), "wiring.strings[1]", "is empty: leave the string out"),
        (Wiring("parallel", ((1, 2), (3, 5))), "wiring.strings[1]", "names panel 5; the array has 4"),
        (Wiring("parallel", ((0, 1, 2), (3, 4))), "wiring.strings[0]", "names panel 0; the array has 4"),
        (Wiring("parallel", ((1, 2, 3), (3, 4))), "wiring.strings", "panel 3 is wired twice"),
        (Wiring("parallel", ((1, 2), (2, 1))), "wiring.strings", "panel 1 is wired twice"),
        (Wiring("parallel", ((1, 4), (2,))), "wiring.strings", "panel 3 is in no string"),
        (Wiring("series", ((4,),)), "wiring.strings", "panel 1 is in no string"),
        (Wiring("series", ((1, 2), (3, 4))), "wiring.strings", 'one input holds one string: choose "parallel" for more'),
    ],
)
def test_impossible_wirings_are_refused_by_string(wiring, path, words):
    with pytest.raises(BriefError) as refused:
        wiring.groups(4)
    assert (refused.value.path, refused.value.message) == (path, words)
