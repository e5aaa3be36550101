"""What a build stands on, drawn under it from the side as a quiet shape: to scale up to twice the length of the glass, cut where it is higher."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians, tan

from sundial.quantities import Units, format_length
from sundial.scene import Scene

HIGHEST = 2.0  # slope lengths of it are drawn


@dataclass(frozen=True)
class StandView:
    """``shape`` and the clamps' ``lines`` as paths, px; ``words`` of how high it is at ``x``, ``y``; ``cut``: a path where it is not drawn whole."""

    shape: str
    lines: str
    words: str
    x: float
    y: float
    cut: str


def drawn_height(scene: Scene) -> float:
    """How much of its height is drawn, m."""
    return min(scene.raised, HIGHEST * scene.array.slope_length)


def stand_view(
    scene: Scene,
    glass: tuple[tuple[float, float], tuple[float, float]],
    surface: float,
    ground: float,
    scale: float,
    units: Units,
) -> StandView | None:
    """The shape under a glass (px, its lower and upper edge) between the ``surface`` and the ``ground``, px; None where nothing is told or it is
    the ground."""
    told = scene.brief.stand
    if told is None or told.on in ("ground", "pole"):
        return None
    (low_x, low_y), (high_x, high_y) = glass
    left, right = min(low_x, high_x) - 12, max(low_x, high_x) + 12
    top = min(low_y, high_y)

    def falls(x: float) -> float:
        """Height of a roof that falls to the front, px."""
        return round(surface - (x - low_x) * tan(radians(told.slope)), 1)

    shapes = {
        "wall": f"M{right - 12} {ground}V{max(top - 14, 6)}",
        "railing": f"M{right - 12} {top + 6}V{ground}H332V{surface}H{right - 12}",
        "pergola": f"M{left} {surface}H{right}M{left + 10} {surface}V{ground}M{right - 10} {surface}V{ground}",
        "flat-roof": f"M{left} {ground}V{surface}H{right}V{ground}",
        "roof": f"M{left} {ground}V{falls(left)}L{right} {falls(right)}V{ground}",
        "vehicle": f"M{left - 8} {ground - 5}V{surface}H{right}L{right + 14} {(surface + ground) / 2}V{ground - 5}Z"
        f"M{left + 4} {ground - 5}a5 5 0 1 0 10 0a5 5 0 1 0 -10 0M{right - 8} {ground - 5}a5 5 0 1 0 10 0a5 5 0 1 0 -10 0",
    }
    lines, apart = "", told.fixings.lines_apart
    if told.on in ("wall", "railing") and apart is not None:
        middle, x = (low_y + high_y) / 2, right - 12
        lines = "".join(f"M{x - 6} {middle + sign * apart / 2 * scale:.1f}h12" for sign in (-1, 1))
    high = ground - surface
    cut = ""
    if scene.raised > drawn_height(scene) + 1e-6:
        y = (surface + ground) / 2
        cut = f"M{left - 14} {y}l6 -4 6 8 6 -8 6 8M{right - 10} {y}l6 -4 6 8 6 -8 6 8"
    words = f"{format_length(scene.raised, units)} up" if scene.raised and high > 14 else ""
    return StandView(shapes[told.on], lines, words, round((left + right) / 2, 1), round((surface + ground) / 2 + 4, 1), cut)
