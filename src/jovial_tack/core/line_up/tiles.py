"""A drawing of full size laid over sheets of paper (docs/METHOD.md, section 16). mm."""

from __future__ import annotations

from math import ceil

from jovial_tack.core.value import Value

#: Paper by its name, width and height upright; ISO 216, ANSI Y14.1.
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
#: Edge of the paper that nothing is drawn on, the strip for words at its foot, and by how much two
#: sheets overlap.
MARGIN, STRIP, OVERLAP = 12.0, 26.0, 15.0


class Tiles(Value, frozen=True):
    """Sheets of paper. size: as they lie; turned: on their side; origins: the place of the drawing at
    the lower left corner of each sheet's drawing area, rows from the foot, in order of the pages; area:
    what of the drawing one sheet shows; scale: paper over drawing, across and upright.
    """

    paper: str
    size: tuple[float, float]
    turned: bool
    rows: int
    columns: int
    area: tuple[float, float]
    origins: tuple[tuple[float, float], ...]
    scale: tuple[float, float] = (1.0, 1.0)

    @property
    def count(self) -> int:
        """How many sheets there are."""
        return self.rows * self.columns

    def on_paper(self, sheet: int, x: float, y: float) -> tuple[float, float]:
        """Where a place of the drawing is on a sheet, from its lower left corner, mm of paper."""
        left, foot = self.origins[sheet]
        across, upright = self.scale
        return MARGIN + (x - left) * across, MARGIN + STRIP + (y - foot) * upright

    @property
    def crosses(self) -> tuple[tuple[str, float, float], ...]:
        """Crosses to lay sheets over one another by, with their names: in the middle of every band that
        sheets share, at either end of it, so that each is on all sheets that share it.
        """
        found: list[tuple[float, float]] = []
        left, foot = self.origins[0]
        wide, high = self.area
        step_x, step_y = wide - OVERLAP / self.scale[0], high - OVERLAP / self.scale[1]
        half = OVERLAP / 2
        upright = [foot + half / self.scale[1]]
        upright += [foot + step_y * row + half / self.scale[1] for row in range(1, self.rows)]
        upright.append(foot + step_y * (self.rows - 1) + high - half / self.scale[1])
        across = [left + half / self.scale[0]]
        across += [
            left + step_x * column + half / self.scale[0] for column in range(1, self.columns)
        ]
        across.append(left + step_x * (self.columns - 1) + wide - half / self.scale[0])
        for y in upright:
            found += [(x, y) for x in across[1:-1]]
        for y in upright[1:-1]:
            found += [(across[0], y), (across[-1], y)]
        names = [f"{chr(ord('A') + k // 9)}{k % 9 + 1}" for k in range(len(found))]
        return tuple((name, x, y) for name, (x, y) in zip(names, found, strict=True))


def tile(low: complex, high: complex, paper: str, scale: tuple[float, float] = (1.0, 1.0)) -> Tiles:
    """The sheets a drawing takes, the fewest; on their side only where that saves some.

    Parameters: its lower left and upper right corner; scale: paper over drawing by what the printer
    does. The drawing lies in the middle of all sheets together.

    >>> found = tile(0j, 300 + 200j, "a4")
    >>> found.turned, found.rows, found.columns
    (False, 1, 2)
    """
    upright = _tiled(low, high, paper, scale, turned=False)
    turned = _tiled(low, high, paper, scale, turned=True)
    return turned if turned.count < upright.count else upright


def _tiled(
    low: complex, high: complex, paper: str, scale: tuple[float, float], *, turned: bool
) -> Tiles:
    wide, tall = PAPERS[paper][::-1] if turned else PAPERS[paper]
    room = wide - 2 * MARGIN, tall - 2 * MARGIN - STRIP
    area = room[0] / scale[0], room[1] / scale[1]
    lap = OVERLAP / scale[0], OVERLAP / scale[1]
    size = high.real - low.real, high.imag - low.imag
    columns, rows = (max(ceil((size[k] - lap[k]) / (area[k] - lap[k]) - 1e-9), 1) for k in (0, 1))
    step = area[0] - lap[0], area[1] - lap[1]
    whole = step[0] * columns + lap[0], step[1] * rows + lap[1]
    left = low.real - (whole[0] - size[0]) / 2
    foot = low.imag - (whole[1] - size[1]) / 2
    origins = [
        (left + step[0] * column, foot + step[1] * row)
        for row in range(rows)
        for column in range(columns)
    ]
    return Tiles(paper, (wide, tall), turned, rows, columns, area, tuple(origins), scale)
