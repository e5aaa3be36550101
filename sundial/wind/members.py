"""What wind and weight bring into the members and feet of a rig; the load path itself is the frame's own (:mod:`sundial.frames`)."""

from __future__ import annotations

import numpy as np

from sundial.frames.feet import Vector, resultant, turning, worst_pressures
from sundial.frames.load_path import GRAVITY, Burden, Paths, feet_apart
from sundial.wind.stance import Rig, Stance
from sundial.wind.standing import Push, weights

SEVERAL_ROWS = 33  # pressures at which more than two rows of feet are asked


def load_paths(rig: Rig, how: Stance, push: Push, pressure: float, set_by: dict[str, float] | None = None) -> Paths:
    """What the parts of a rig take at a velocity ``pressure``, Pa, of the wind's ``push``, its weight counted."""
    wind: Vector = (push.level * pressure, push.up * pressure)
    weight: Vector = (0.0, -rig.moving * GRAVITY)
    burden = Burden(
        on_glass=[(wind, push.at), (weight, how.on_glass(rig.length / 2))],
        lines={line.name: line for line in rig.structure.side_lines(how.tilt, rig.length, set_by)},
        on_feet=[((0.0, -one.newtons), one.at) for one in weights(rig, how)[1:]],
        feet=how.feet,
        told=rig.feet is not None,
        fixed=rig.fixed,
        ballast=rig.ballast,
        anchored=rig.anchored,
    )
    return rig.structure.load_path(burden)


def feet_pressures(rig: Rig, how: Stance, push: Push, most: float) -> list[float]:
    """Velocity pressures from 0 to ``most``, Pa, among which is the one that asks most of each foot: a load that turns from pressing into
    pulling is not worst in the strongest wind."""
    if how.feet is None or not rig.structure.on_trestles:
        return [0.0, most]
    if len(rig.structure.shares_of_rail(rig.length)) > 2:
        return [float(q) for q in np.linspace(0.0, most, SEVERAL_ROWS)]
    front = how.feet[0]
    still = resultant([((0.0, -weight.newtons), weight.at) for weight in weights(rig, how)], front)
    per_pascal = resultant([((push.level, push.up), push.at)], front)
    return worst_pressures(still, per_pascal, feet_apart(how.feet), rig.structure.hold(rig.anchored), most)


def glass_moment(rig: Rig, how: Stance, push: Push, pressure: float) -> float:
    """Moment of wind and weight about the hinge (or the joint of a pole), Nm, above zero where it would lie flatter: what an actuator
    must overcome."""
    hinge = rig.structure.hinge
    wind = (push.level * pressure, push.up * pressure)
    turned = turning(wind, push.at, hinge) + turning((0.0, -rig.moving * GRAVITY), how.on_glass(rig.length / 2), hinge)
    return -turned
