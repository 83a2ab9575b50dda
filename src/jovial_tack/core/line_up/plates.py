"""How a flat bracket plate twists under the pull of the belts it carries (docs/METHOD.md, section 12).

A bar from the line of its bolts to the posts of the unit: along it the pull bends it, across it twists
it. S. Timoshenko, J. N. Goodier, *Theory of Elasticity* (torsion of a rectangular bar). mm, N.
"""

from __future__ import annotations

from jovial_tack.core.value import Value

#: How much softer the bar is than plate elements of the same plate, for l ≥ b: least and most.
_BENT_SOFTER, _TWISTED_SOFTER = (1.05, 1.5), (1.3, 2.5)


class Plate(Value, frozen=True):
    """A flat plate: from its bolt line to the posts (length), across, thick, mm; way: unit direction of
    its length in the front view; elastic and shear modulus, MPa.
    """

    length_mm: float
    width_mm: float
    thickness_mm: float
    way: complex
    elastic_mpa: float
    shear_mpa: float

    @property
    def is_long(self) -> bool:
        """Whether it is as long as it is wide; a shorter one is stiffer than told."""
        return self.length_mm >= self.width_mm


def turned_by(plate: Plate, load_n: complex, before_mm: float) -> tuple[complex, complex]:
    """How far a plate turns a unit whose belts pull some way before it, rad about x (real) and y
    (imag): the least and the most, by how much softer the bar is than the plate.

    >>> one = Plate(120.0, 60.0, 10.0, 1 + 0j, 70000.0, 26300.0)
    >>> least, most = turned_by(one, 900 + 0j, 60.0)
    >>> round(abs(most), 4)  # rad
    0.0176
    """
    along = (load_n * plate.way.conjugate()).real
    across = (load_n * plate.way.conjugate()).imag
    thick = plate.thickness_mm**3
    share = 1.0 - 0.63 * plate.thickness_mm / plate.width_mm
    reach = before_mm * plate.length_mm
    bent = along * reach / (plate.elastic_mpa * plate.width_mm * thick / 12.0)
    twisted = across * reach / (plate.shear_mpa * plate.width_mm * thick / 3.0 * share)
    ends = []
    for k in (1, 0):
        # in the plate's own way: pulled along it turns about the way across, and the other way round
        own = complex(-twisted / _TWISTED_SOFTER[k], bent / _BENT_SOFTER[k])
        ends.append(own * plate.way)
    return ends[0], ends[1]
