"""How a unit on stand-offs tilts under the pull of its belts.

Each post is a Timoshenko column fixed at its boss, the unit is rigid. J. S. Przemieniecki, *Theory of
Matrix Structural Analysis* (1968); VDI 2230 for the moment at which a clamped stack opens.
docs/METHOD.md, section 12. Units mm, N, N·mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import pi

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value

#: Of steel, iron and aluminium alike, near enough.
POISSON = 0.3
#: Shear areas of round tubes lie between 0.5 and 0.9 of the whole; a thick ring.
_SHEAR_SHARE = 0.75
#: Even what is bolted flat gives a little.
_LEAST_LENGTH_MM = 0.5


class Post(Value, frozen=True):
    """A stack of pieces round its bolt. at: its place in the front view, complex mm; base_mm: z of its
    foot; length_mm; outer_mm, bore_mm of the pieces; bolt_mm: diameter of the bolt's core.
    """

    at: complex
    base_mm: float
    length_mm: float
    outer_mm: float
    bore_mm: float
    bolt_mm: float

    def opens_at(self, clamp_n: float) -> float:
        """The bending moment at its foot from which one side of it comes loose, N·mm; VDI 2230."""
        outer, bore = self.outer_mm, self.bore_mm
        return clamp_n * (outer**2 + bore**2) / (8.0 * outer)


class Bent(Value, frozen=True, eq=False):
    """What a load does. shift (3,) mm and tilt (3,) rad of the unit, told at the load's place;
    moments (P,) at the foot of each post, N·mm; bolt_mpa (P,): bending stress in a bolt that is alone.
    """

    shift: Float
    tilt: Float
    moments: Float
    bolt_mpa: Float


def bend(
    posts: Sequence[Post], load_n: complex, at: complex, plane_mm: float, *, elastic_mpa: float,
    opened: bool = False,
) -> Bent:  # fmt: skip
    """How far a unit gives under a load in the front view, in a plane at z, mm.

    Parameters: opened: with every stack open, so that only the bolts bend.

    >>> one = Post(0j, 0.0, 60.0, 19.0, 10.0, 8.2)
    >>> found = bend([one], 800j, 0j, 100.0, elastic_mpa=206000.0)
    >>> round(float(np.degrees(found.tilt[0])), 2), round(float(found.moments[0]) / 1000)
    (-0.15, 80)
    """
    whole = np.zeros((6, 6))
    parts = []
    for post in posts:
        stiff = _stiffness(post, elastic_mpa, opened=opened)
        # of the unit's motion at the load to that of the post's tip
        tip = np.array([post.at.real, post.at.imag, post.base_mm + post.length_mm])
        arm = tip - np.array([at.real, at.imag, plane_mm])
        carried = np.eye(6)
        carried[:3, 3:] = -_cross(arm)
        whole += carried.T @ stiff @ carried
        parts.append((post, stiff, carried))
    force = np.array([load_n.real, load_n.imag, 0.0, 0.0, 0.0, 0.0])
    moved = np.linalg.solve(whole, force)
    moments, stresses = [], []
    for post, stiff, carried in parts:
        at_tip = stiff @ carried @ moved
        # about the foot: that at the tip, and the force along the post
        length = max(post.length_mm, _LEAST_LENGTH_MM)
        foot = at_tip[3:5] + length * np.array([-at_tip[1], at_tip[0]])
        moments.append(float(np.hypot(*foot)))
        stresses.append(moments[-1] / (pi / 32 * post.bolt_mm**3))
    return Bent(moved[:3], moved[3:], np.array(moments), np.array(stresses))


def _cross(arm: Float) -> Float:
    x, y, z = arm
    return np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])


def _stiffness(post: Post, elastic_mpa: float, *, opened: bool) -> Float:
    """Forces and moments at the tip of a post (6, 6) for its shift and turn there."""
    length = max(post.length_mm, _LEAST_LENGTH_MM)
    shear = elastic_mpa / (2 * (1 + POISSON))
    core = post.bolt_mm
    area, second = pi / 4 * core**2, pi / 64 * core**4
    if not opened:
        area += pi / 4 * (post.outer_mm**2 - post.bore_mm**2)
        second += pi / 64 * (post.outer_mm**4 - post.bore_mm**4)
    bends = elastic_mpa * second
    aside = length**3 / (3 * bends) + length / (_SHEAR_SHARE * shear * area)
    both, turned = length**2 / (2 * bends), length / bends
    gives = np.zeros((6, 6))
    gives[0, 0] = gives[1, 1] = aside
    gives[3, 3] = gives[4, 4] = turned
    # pushed along x the tip turns about y, pushed along y about −x
    gives[0, 4] = gives[4, 0] = both
    gives[1, 3] = gives[3, 1] = -both
    gives[2, 2] = length / (elastic_mpa * area)
    gives[5, 5] = length / (shear * 2 * second)
    return np.asarray(np.linalg.inv(gives))
