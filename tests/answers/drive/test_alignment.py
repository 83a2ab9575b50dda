"""Alignment against the plain geometry of lines and planes in space."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jovial_tack.core.drive.path import trace
from jovial_tack.core.line_up.alignment import Seats, align

CENTERS = np.array([0, 400j, 300 + 150j])
PATH = trace(CENTERS, np.array([-60.0, -60.0, -60.0]))
FLAT = np.zeros(3, dtype=bool)


def seats(planes: list[float], tilt: np.ndarray | None = None, flat: np.ndarray = FLAT) -> Seats:
    return Seats(np.array(planes), np.zeros((3, 2)) if tilt is None else tilt, flat)


@given(st.floats(-0.05, 0.05), st.floats(-0.05, 0.05), st.floats(-200, 200))
def test_everything_in_one_tilted_plane_lines_up(a: float, b: float, z: float) -> None:
    planes = z + np.tan(a) * CENTERS.imag - np.tan(b) * CENTERS.real
    found = align(PATH, seats(list(planes), np.tile([a, b], (3, 1))))
    assert found.span == pytest.approx(np.zeros(3), abs=1e-12)


def test_an_offset_pulley_bends_the_belt_on_both_sides() -> None:
    found = align(PATH, seats([0, 0, 2.0]))
    assert found.span[1] == pytest.approx(np.arctan(2.0 / PATH.length[1]))
    assert found.span[2] == pytest.approx(np.arctan(2.0 / PATH.length[2]))
    assert found.span[0] == 0


def test_a_flat_pulley_fixes_no_plane() -> None:
    centers = np.array([0, -20 + 200j, 400j, 300 + 150j])
    path = trace(centers, np.array([-60.0, 40.0, -60.0, -60.0]))
    flat = np.array([False, True, False, False])
    tilt = np.zeros((4, 2))
    one = align(path, Seats(np.array([0, 99.0, 3.0, 0]), tilt, flat))
    other = align(path, Seats(np.array([0, np.nan, 3.0, 0]), tilt, flat))
    run = path.length[0] + path.arc[1] + path.length[1]
    assert one.span == pytest.approx(other.span)
    assert one.span[0] == one.span[1] == pytest.approx(np.arctan(3.0 / run))
