"""What a belt is called until somebody names it: by what it drives, following when that changes."""

from __future__ import annotations

import re

from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Build, Drive, Sprung

_DRIVES_NOTHING = ("idler", "tensioner")
_MANY = "Accessory drive"


def _driven(build: Build, drive: Drive) -> list[str]:
    """What a drive drives, by name, along its route."""
    arm = drive.tensioner.pulley if isinstance(drive.tensioner, Sprung) else ""
    driver = drive.pulleys[0].shaft
    shafts = [build.shaft(drive.pulley(name).shaft) for name in drive.route if name != arm]
    return [s.label for s in shafts if s.id != driver and s.kind not in _DRIVES_NOTHING]


def name_by_driven(build: Build, drive: Drive) -> str:
    """A drive by what it drives: “Alternator drive”, “Water pump and fan drive”; "" if it is nothing.

    Its first pulley is taken to be the one that drives it, as a new belt is laid.
    """
    labels = _driven(build, drive)
    if len(labels) > 2:
        return _MANY
    first, *second = labels or [""]
    both = " and ".join([first, *(label[:1].lower() + label[1:] for label in second)])
    return f"{both} drive" if both else ""


def _is_named_by(name: str, driven: str) -> bool:
    """Whether a name is that of what is driven, with a number or without."""
    return bool(driven) and re.fullmatch(re.escape(driven) + r"( \d+)?", name) is not None


def renamed(before: Build, after: Build) -> Build:
    """The later build, belts that were named by what they drove named by what they drive now."""
    was = {drive.id: drive for drive in before.drives}
    for drive in after.drives:
        earlier = was.get(drive.id)
        if earlier is None or earlier.name != drive.name or not drive.name:
            continue  # it is new, or was named by hand in between
        old, new = name_by_driven(before, earlier), name_by_driven(after, drive)
        if new and new != old and _is_named_by(drive.name, old):
            others = [other.label for other in after.drives if other.id != drive.id]
            after = with_drive(after, changed(drive, name=free_name(new, others)))
    return after
