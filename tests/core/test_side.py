"""The side view: parts that meet where they are bolted."""

from __future__ import annotations

import io
from math import dist
from pathlib import Path

import ezdxf
import numpy as np
import pytest

from sundial.errors import BriefError
from sundial.frame.dxf import side_dxf
from sundial.frames.a_frame import AFrame
from sundial.frames.jack import Jack
from sundial.frames.kind import Structure
from sundial.frames.legs import Legs
from sundial.frames.pole import Pole
from sundial.frames.prop import Prop
from sundial.frames.wall import Wall
from sundial.frames.wedge import Wedge
from tests.core.test_structure import random_frames

ROOT = Path(__file__).parents[2]


def settled(frame: Structure) -> list[tuple[float, dict[str, float]]]:
    try:
        return [(hole.tilt, hole.set_by) for hole in frame.holes]
    except BriefError:
        return []


def frames() -> list[tuple[Structure, float, float, dict[str, float]]]:
    rng = np.random.default_rng(11)
    found: list[tuple[Structure, float, float, dict[str, float]]] = []
    for number, frame in enumerate(random_frames(700)):
        if number % 7 == 0:
            slope = float(rng.uniform(-5, 5))
            screw = Jack(front_height=2.4, base=(0.08, float(rng.uniform(-0.9, -0.6))), rail_point=0.62, stroke=(1.0, 1.3))
            others: list[Structure] = [
                Pole(front_height=0.0, height=2.4, ends=(10, 60), offset=float(rng.uniform(0, 0.3)), slope=slope),
                Pole(front_height=0.0, height=2.4, ends=(10, 60), joint=0.8),
                Pole(front_height=0.0, height=2.4, ends=(10, 60), offset=0.1, slope=slope, screw=screw),
                Wall(front_height=2.2, lower_height=float(rng.uniform(0.5, 2.5))),
                Wedge(front_height=0.2, rise=0.6, run=float(rng.uniform(0.8, 2)), slope=slope),
                Wedge(front_height=0.2, overhang=0.1, rise=0.6, slope_length=2.0),
            ]
            frame = others[number // 7 % 6]
        for tilt, held in settled(frame)[:1] or ([(27.0, {})] if isinstance(frame, Wall) else []):
            found.append((frame, tilt, float(rng.uniform(1.5, 3.6)), held))
    return found[:400]


def test_parts_are_as_long_as_they_are_cut_and_meet():
    for frame, tilt, length, held in frames():
        lines = {line.name: line for line in frame.side_lines(tilt, length, held)}
        size = {name: dist(line.start, line.end) for name, line in lines.items()}
        assert size["glass"] == pytest.approx(length)
        if isinstance(frame, AFrame):
            assert (size["front leg"], size["back leg"]) == pytest.approx(frame.legs)
            assert size["spreader"] == pytest.approx(held["length"])
        elif isinstance(frame, Prop):
            assert size["prop"] == pytest.approx(held["length"])
        elif isinstance(frame, Legs):
            assert size["rear leg"] == pytest.approx(held["rear_height"])
        elif isinstance(frame, Jack):
            assert size["actuator"] == pytest.approx(frame.length(tilt))
        elif isinstance(frame, Wedge):
            assert size["upright"] == pytest.approx(frame.rise) or frame.run is not None


def test_a_dimension_is_as_long_as_what_it_is_asked_for():
    for frame, tilt, length, held in frames():
        for one in frame.dimensions(tilt, length, held):
            size = dist(one.start, one.end)
            if one.key == "front_height":
                assert size == pytest.approx(frame.front_height)
            elif one.key in ("front_leg", "back_leg"):
                assert size == pytest.approx(frame.legs[one.key == "back_leg"])
            elif one.key == "support_spacing":
                assert size == pytest.approx(frame.spacing)
            elif one.number is not None:
                assert size == pytest.approx(getattr(frame, one.key)[one.number]), one.name
            elif one.key is not None:
                assert size == pytest.approx(getattr(frame.jack if one.key == "rail_point" else frame, one.key)), one.name


@pytest.mark.parametrize("number", range(0, 60, 7))
def test_the_dxf_reads_back_with_its_lengths(number):
    frame, tilt, length, held = frames()[number]
    file = ezdxf.read(io.StringIO(side_dxf(frame, tilt, length, held, "Rack")))
    assert file.units == 4 and not file.audit().errors
    space = file.modelspace()
    lines = [line for line in frame.side_lines(tilt, length, held) if dist(line.start, line.end) > 0.001]
    measured = sorted(dimension.get_measurement() for dimension in space.query("DIMENSION"))
    assert measured == pytest.approx(sorted(dist(line.start, line.end) * 1000 for line in lines), abs=1e-6)
    glass = next(line for line in space.query("LINE") if line.dxf.layer == "GLASS")
    rise, run = glass.dxf.end.y - glass.dxf.start.y, glass.dxf.end.x - glass.dxf.start.x
    assert np.degrees(np.arctan2(rise, run)) == pytest.approx(tilt)
