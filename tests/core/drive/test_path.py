from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.drive.ring import ring_of

SIX = np.array([0, -138 + 40j, -222 + 150j, 178j, 232 + 196j, 214 - 22j])
RHO = np.array([-84.1, 39.1, -71.6, 66.1, -30.6, -46.6])


@given(st.floats(-7, 7), st.complex_numbers(max_magnitude=3000), st.floats(0.2, 5))
def test_turning_moving_and_scaling_a_layout(turn: float, shift: complex, scale: float) -> None:
    there = trace(SIX * np.exp(1j * turn) * scale + shift, RHO * scale)
    here = trace(SIX, RHO)
    assert there.length == pytest.approx(here.length * scale, abs=1e-8)
    assert there.wrap == pytest.approx(here.wrap, abs=1e-10)
    assert there.end == pytest.approx(here.end * np.exp(1j * turn) * scale + shift, abs=1e-7)


def test_spans_touch_their_pulleys_at_right_angles() -> None:
    path = trace(SIX, RHO)
    for point, center in ((path.start, SIX), (path.end, np.roll(SIX, -1))):
        radius = point - center
        assert (radius * path.direction.conj()).real == pytest.approx(0, abs=1e-9)
    assert np.abs(path.start - SIX) == pytest.approx(np.abs(RHO))
    assert path.start + path.length * path.direction == pytest.approx(path.end)


def test_a_belt_turns_once_and_so_parallel_lines_differ_by_two_pi() -> None:
    path, outer = trace(SIX, RHO), trace(SIX, RHO - 0.7)  # the crank turns cw: 0.7 mm outward
    assert not faults(path, -1.0).any
    assert float(outer.total - path.total) == pytest.approx(2 * np.pi * 0.7)


def test_routes_side_by_side_are_the_single_routes() -> None:
    rng = np.random.default_rng(11)
    sizes, seen = (6, 2, 3, 4), 0
    for _ in range(60):
        rho = [rng.choice([-1, 1], n) * rng.uniform(20, 60, n) for n in sizes]
        each = [rng.uniform(-200, 200, (5, n)) + 1j * rng.uniform(-200, 200, (5, n)) for n in sizes]
        many = trace(np.concatenate(each, axis=-1), np.concatenate(rho), ring_of(*sizes))
        signs = np.array([float(np.sign(r[0])) for r in rho])
        found = faults(many, signs).any
        for k, (centers, radii) in enumerate(zip(each, rho, strict=True)):
            one = trace(centers, radii)
            assert np.array_equal(found[:, k], faults(one, float(signs[k])).any)
            assert many.total[:, k] == pytest.approx(one.total, nan_ok=True)
            assert many.route(k).end == pytest.approx(one.end, nan_ok=True)
            seen += int((~found[:, k]).sum())
    assert seen > 20  # some of them are belts that run


def test_many_lanes_are_the_single_lanes() -> None:
    rng = np.random.default_rng(7)
    many = SIX + rng.normal(0, 5, (40, 6)) + 1j * rng.normal(0, 5, (40, 6))
    batch = trace(many, RHO)
    for lane in range(40):
        one = trace(many[lane], RHO)
        assert np.array_equal(batch.length[lane], one.length)
        assert np.array_equal(batch.wrap[lane], one.wrap)
    assert np.array_equal(
        faults(batch, -1.0).any, [bool(faults(trace(c, RHO), -1.0).any) for c in many]
    )


def test_every_way_a_path_cannot_exist() -> None:
    overlap = trace(np.array([0, 150 + 0j]), np.array([-84.1, -80.0]))
    assert faults(overlap, -1.0).overlap.tolist() == [True]

    distant = np.array([0, 400j, 400 + 400j, 400 + 0j])
    rho = np.array([-50.0, -50.0, -50.0, -50.0])
    assert not faults(trace(distant, rho), -1.0).any
    on_the_wrong_side = rho * [1, 1, -1, 1]
    found = faults(trace(distant, on_the_wrong_side), -1.0)
    assert found.turning or found.lost[2]
    assert found.any
    crossed = distant[[0, 2, 1, 3]]
    assert faults(trace(crossed, rho), -1.0).any
    through = np.array([0, 400j, 400 + 0j, 200 + 200j])
    found = faults(trace(through[[0, 1, 2]], rho[:3]), -1.0)
    assert not found.any
    in_the_way = trace(np.array([0, 400j, 130 + 200j, 400 + 400j, 400 + 0j]), np.full(5, -50.0))
    assert faults(in_the_way, -1.0).any


def test_two_lost_pulleys_of_opposite_side_do_not_hide_in_the_sum() -> None:
    # a slack-side back idler that does not reach and, opposite, a ribbed one that does not either
    centers = np.array([0, -140 + 200j, 400j, 500 + 400j, 420 + 200j, 500 + 0j])
    rho = np.array([-60.0, 30.0, -60.0, -60.0, -30.0, -60.0])
    path = trace(centers, rho)
    turned = (np.sign(rho) * path.wrap).sum() / (2 * np.pi)
    assert turned == pytest.approx(-1.0)
    assert set(np.flatnonzero(faults(path, -1.0).lost)) == {1, 4}
