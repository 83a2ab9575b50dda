"""What the cuts of bracket plates are for: the bosses, ears and shafts they name, if they exist."""

from __future__ import annotations

from jovial_tack.document import model as doc


def stack_with(build: doc.Build, meant: doc.MeantFor) -> tuple[doc.Stack, doc.Ear] | None:
    """The stack and the ear that a cut is meant for; None without one, or if it has gone."""
    for stack in build.stacks:
        if meant.ear is None or meant.shaft not in (None, stack.shaft):
            continue
        for ear in stack.ears:
            if ear.id == meant.ear:
                return stack, ear
    return None


def boss_of(build: doc.Build, cut: doc.Cut) -> doc.Boss | None:
    """The boss whose bolt goes through a cut: the one it is meant for, or that of its ear."""
    if cut.meant is None:
        return None
    if cut.meant.boss is not None:
        return build.find_boss(cut.meant.boss)
    found = stack_with(build, cut.meant)
    return None if found is None else build.find_boss(found[1].boss)


def shaft_of_cut(build: doc.Build, cut: doc.Cut) -> str | None:
    """The shaft a cut carries: that of its ear, or the one whose travel it is."""
    if cut.meant is None:
        return None
    found = stack_with(build, cut.meant)
    name = cut.meant.shaft if found is None else found[0].shaft
    return name if any(shaft.id == name for shaft in build.shafts) else None


def carried_by(build: doc.Build, plate: doc.Plate) -> tuple[str, ...]:
    """The shafts a plate carries."""
    names = [shaft_of_cut(build, cut) for cut in plate.features]
    return tuple(dict.fromkeys(name for name in names if name is not None))


def place_wanted(build: doc.Build, cut: doc.Cut) -> complex | None:
    """Where a hole should be: over its boss; None for one that is meant for none, and for slots."""
    boss = boss_of(build, cut)
    if boss is None or not isinstance(cut, doc.HoleCut):
        return None
    return complex(*boss.at_mm)


def cut_name(build: doc.Build, cut: doc.Cut) -> str:
    """What a cut is called: by the boss, the unit or the shaft it is for, or by its id."""
    boss, shaft = boss_of(build, cut), shaft_of_cut(build, cut)
    if shaft is not None:
        unit = build.shaft(shaft).label
        return f"{cut.type} of {unit}" + (f" at {boss.label}" if boss is not None else "")
    return f"{cut.type} at {boss.label}" if boss is not None else f"{cut.type} “{cut.id}”"
