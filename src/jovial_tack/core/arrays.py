"""Array types shared by the mechanics."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Complex = NDArray[np.complex128]
    Float = NDArray[np.float64]
    Bool = NDArray[np.bool_]
    Int = NDArray[np.int64]
else:  # loading numpy.typing would take longer than many a solve
    Complex = Float = Bool = Int = Any

TWO_PI = 2.0 * np.pi
MM_PER_M = 1000.0
RAD_S_PER_RPM = TWO_PI / 60.0


def dot(a: Complex, b: Complex) -> Float:
    """Scalar product of plane vectors held as complex numbers (broadcasts).

    >>> float(dot(np.array(3 + 4j), np.array(1j)))
    4.0
    """
    return a.real * b.real + a.imag * b.imag


def cross(a: Complex, b: Complex) -> Float:
    """Signed area a × b of plane vectors; positive when b lies to the left of a.

    >>> float(cross(np.array(1 + 0j), np.array(1j)))
    1.0
    """
    return a.real * b.imag - a.imag * b.real


def chosen(figure: Any, which: Int | slice) -> Any:
    """Chosen places of the last axis of a figure (..., J), none of them less than nothing.

    `take` copies several times as fast as an index does.
    """
    if isinstance(which, slice) or figure.ndim == 1:
        return figure[..., which]
    return figure.take(which, axis=-1, mode="clip")
