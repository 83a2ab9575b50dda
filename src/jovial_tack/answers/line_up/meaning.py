"""What a hole is for by where it was put: over a boss it takes that boss's bolt."""

from __future__ import annotations

from jovial_tack.catalogue import Catalogue
from jovial_tack.document import model as doc
from jovial_tack.document.edits.plates import set_cut
from jovial_tack.document.meant import boss_of


def meant_by_place(
    build: doc.Build, plate_id: str, cut_id: str, boss_id: str | None, catalogue: Catalogue
) -> doc.Build:
    """The build with a hole for the boss it was put over, or for no boss any more if it was moved off.

    A hole that was for nothing takes the size of the boss's bolt. What is for an ear or a shaft stays
    so.
    """
    from jovial_tack.answers.line_up.plate_proposed import clearance_hole_mm

    cut = build.plate(plate_id).feature(cut_id)
    meant = cut.meant
    if meant is not None and meant.boss is None:
        return build
    if boss_id is None:
        own = boss_of(build, cut)
        return build if own is None else set_cut(build, plate_id, cut_id, meant=None)
    if meant is not None and meant.boss == boss_id:
        return build
    keys: dict[str, object] = {"meant": {"boss": boss_id}}
    if meant is None:
        keys["diameter_mm"] = clearance_hole_mm(build.find_boss(boss_id), catalogue)
    return set_cut(build, plate_id, cut_id, **keys)
