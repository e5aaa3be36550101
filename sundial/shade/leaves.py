"""When trees stand in leaf, and how much light their crowns let through.

Direct light through single crowns: 1 to 5 % in leaf, 40 to 52 % bare (Konarska et al. 2014, doi
10.1007/s00704-013-1000-3, measured on five kinds of street tree). An evergreen is taken as a crown in leaf all year.
"""

from __future__ import annotations

LEAF_LIGHT, BARE_LIGHT = 0.05, 0.45  # Konarska et al. 2014, rounded
EVERGREEN_LIGHT = LEAF_LIGHT


def usual_leaf_months(latitude: float) -> frozenset[int]:
    """Months 1 to 12 in which trees that shed their leaves carry them: May to October, or November to April in the south."""
    return frozenset({5, 6, 7, 8, 9, 10} if latitude >= 0 else {11, 12, 1, 2, 3, 4})
