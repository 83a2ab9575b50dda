"""Toothed drives against root finding on the plain length of a belt round two circles."""

from __future__ import annotations

import math
import random

import pytest
from scipy.optimize import brentq

from jovial_tack.core.belt.toothed import ToothedDrive, belts_for
from jovial_tack.core.errors import GeometryError


def length(center: float, r: float, q: float) -> float:
    """Two spans and two arcs, by the wraps."""
    lean = math.asin((q - r) / center)
    return 2 * center * math.cos(lean) + r * (math.pi - 2 * lean) + q * (math.pi + 2 * lean)


def solved(r: float, q: float, wanted: float) -> float:
    low, high = abs(q - r) + 1e-9, wanted
    return float(brentq(lambda c: length(c, r, q) - wanted, low, high, xtol=1e-12))


def test_centre_distance_mesh_and_play_by_another_way() -> None:
    rng = random.Random(4)
    for _ in range(200):
        pitch = rng.choice((5.0, 8.0, 14.0))
        z, y = rng.randint(14, 60), rng.randint(14, 90)
        belt = rng.randint(max(z, y) + 10, 300)
        drive = ToothedDrive(pitch, z, y, belt)
        r, q = z * pitch / 2 / math.pi, y * pitch / 2 / math.pi
        center = solved(r, q, belt * pitch)
        assert drive.center_distance_mm == pytest.approx(center, abs=1e-7)
        lean = math.asin((q - r) / center)
        assert drive.teeth_in_mesh == pytest.approx(
            (z * (math.pi - 2 * lean) / 2 / math.pi, y * (math.pi + 2 * lean) / 2 / math.pi)
        )
        h = 1e-4  # the slack is what the path gives up for a small change of the centres
        given_up = (length(center, r, q) - length(center - h, r, q)) / h
        assert drive.slack_mm(0.25) == pytest.approx(0.25 * given_up, rel=1e-4)
        assert drive.cam_play_deg(1.0) == pytest.approx(math.degrees(given_up / q), rel=1e-4)
        assert drive.ratio == z / y
        assert drive in belts_for(pitch, z, y, center + 0.2 * pitch, pitch)
        hot = length(center * (1 + 23e-6 * 80), r, q) - belt * pitch * (1 + 1e-6 * 80)
        assert drive.strain_when_warm(80.0) == pytest.approx(
            hot / (belt * pitch), rel=1e-3, abs=1e-9
        )
    assert ToothedDrive(8.0, 60, 12, 70).cautions()


def test_what_cannot_be_says_so() -> None:
    for counts in ((30, 60, 45), (0, 30, 60), (10, 200, 106)):
        with pytest.raises(GeometryError, match=r"tee?th|above zero|too short"):
            ToothedDrive(8.0, *counts)
    with pytest.raises(GeometryError, match="apart"):
        belts_for(8.0, 20, 80, 50.0, 8.0)
