"""The travel a mount allows, and the notch of an arm, as the mechanics see them."""

from __future__ import annotations

from math import radians

from jovial_tack.core.drive.sliding import Slot, Swing, Track
from jovial_tack.document import model as doc


def track_of(build: doc.Build, drive: doc.Drive) -> Track | None:
    """The travel of the shaft a locked drive is tensioned by; None if it has none."""
    tensioner = drive.tensioner
    if not isinstance(tensioner, doc.LockedTensioner):
        return None
    return track_on(build.shaft(tensioner.shaft).mount)


def track_on(
    mount: doc.FixedMount | doc.HolesMount | doc.SlotMount | doc.SwingMount | None,
) -> Track | None:
    """The travel a mount allows; None if it allows none."""
    if isinstance(mount, doc.SlotMount) and mount.from_mm != mount.to_mm:
        return Slot(complex(*mount.from_mm), complex(*mount.to_mm))
    if isinstance(mount, doc.SwingMount) and mount.from_deg != mount.to_deg:
        start, end = radians(mount.from_deg), radians(mount.to_deg)
        return Swing(complex(*mount.pivot_mm), mount.radius_mm, start, end)
    return None


def slot_of(drive: doc.Drive, shaft: doc.Shaft) -> Slot | None:
    """The slot a spring pushes a shaft along; None where the drive has no sprung slide there."""
    tensioner = drive.tensioner
    if not isinstance(tensioner, doc.SpringSlideTensioner):
        return None
    track = track_on(shaft.mount) if drive.pulley(tensioner.pulley).shaft == shaft.id else None
    return track if isinstance(track, Slot) else None


def stands_by_share(tensioner: doc.Tensioner | None) -> bool:
    """Whether where a tensioner stands is told as a share of its travel: bolted shafts and slides."""
    return isinstance(tensioner, doc.LockedTensioner | doc.SpringSlideTensioner)


def notch_offset_deg(tensioner: doc.SpringArmTensioner) -> float:
    """Degrees the chosen notch turns the whole tensioner, counter-clockwise positive."""
    if not tensioner.notches_deg or tensioner.notch is None:
        return 0.0
    return tensioner.notches_deg[tensioner.notch]
