"""What each step says: what to do, what to beware of, what to look at."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.answers.fit_up.graph import Node
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import format_length
from jovial_tack.document.model import (
    Build,
    Drive,
    LockedTensioner,
    Pulley,
    Shaft,
    SpringArmTensioner,
    SpringSlideTensioner,
    Sprung,
    StretchTensioner,
)
from jovial_tack.document.travel import notch_offset_deg


def words_of(build: Build, node: Node) -> str:
    """What is to be done, in a sentence without its full stop."""
    return _WORDS[node.kind](build, node)


def cautions_of(build: Build, node: Node, catalogue: Catalogue) -> tuple[str, ...]:
    """What can hurt there, or be spoilt; only where it belongs."""
    said = _cautions(build, node)
    if node.kind == "belt":
        profile = catalogue.profile(_drive(build, node).belt.profile)
        if profile.section == "v":
            said.append("A V-belt is never levered over a rim.")
    return tuple(said)


def looks_of(build: Build, node: Node) -> tuple[str, ...]:
    """What to look at before it is ticked."""
    return tuple(_looks(build, node))


def asks_of(build: Build, node: Node) -> tuple[str, ...]:
    """What a step asks for by looking and listening, as findings of the noise finder; "" a noise of any
    kind. Only what the build has.
    """
    kinds = {shaft.kind for shaft in build.shafts}
    has = {
        "arm_flutters": any(isinstance(drive.tensioner, Sprung) for drive in build.drives),
        "low_charge_all_revs": "alternator" in kinds,
        "steering_heavy_at_lock": "power_steering" in kinds,
    }
    return tuple(finding for finding in _ASKS.get(node.kind, ()) if has.get(finding, True))


#: What each step that is run asks for.
_ASKS = {
    "start": (
        "", "climbs_or_walks", "wobble_seen", "arm_flutters", "low_charge_all_revs",
        "steering_heavy_at_lock",
    ),
    "hot": ("edge_frayed", "black_dust", "hot_after_run", "bolt_loose"),
    "first": ("edge_frayed", "black_dust", "bolt_loose"),
}  # fmt: skip


def _shaft(build: Build, node: Node) -> Shaft:
    return build.shaft(node.of[0])


def _drive(build: Build, node: Node) -> Drive:
    return build.drive(node.of[0])


def _pulley(build: Build, node: Node) -> tuple[Drive, Pulley, Shaft]:
    drive = build.drive(node.of[0])
    pulley = drive.pulley(node.of[1])
    return drive, pulley, build.shaft(pulley.shaft)


def _put_on(build: Build, node: Node) -> str:
    drive, pulley, shaft = _pulley(build, node)
    several = sum(p.shaft == shaft.id for d in build.drives for p in d.pulleys) > 1
    of = f" for {drive.label}" if several else ""
    how = {"keyed": "Key", "pressed": "Press", "bolted": "Bolt"}.get(shaft.nose_fixing or "", "Fit")
    on = " on" if how != "Bolt" else " to it"
    size = format_length(pulley.diameter_mm, build.display_units)
    return f"{how} the pulley of {shaft.label}{on}{of}: {size}"


def _tension(build: Build, node: Node) -> str:
    drive = _drive(build, node)
    held = drive.tensioner
    if held is None:
        return f"How {drive.label} is tensioned is not decided: decide it, then set it"
    if isinstance(held, SpringArmTensioner):
        turned = notch_offset_deg(held)
        notch = f" (bolted at its notch {(held.notch or 0) + 1})" if turned or held.notch else ""
        return f"Let the arm of {drive.label} come on slowly{notch}"
    if isinstance(held, SpringSlideTensioner):
        return f"Let the slide of {drive.label} come on slowly"
    if isinstance(held, StretchTensioner):
        return f"See that the stretch belt of {drive.label} sits in every groove"
    assert isinstance(held, LockedTensioner)
    shaft = build.shaft(held.shaft)
    by = "with its screw" if getattr(shaft.mount, "screw_pitch_mm", None) else "by its bracket"
    if shaft.mount is not None:
        return f"Draw {shaft.label} out {by} until {drive.label} has its tension"
    return f"Set {drive.label} to its tension at {shaft.label}"


def _belt(build: Build, node: Node) -> str:
    drive = _drive(build, node)
    names = [build.shaft(drive.pulley(name).shaft).label for name in drive.route]
    return f"Lay the belt of {drive.label} round {', '.join(names)}"


_Say = Callable[[Build, Node], str]
_WORDS: dict[str, _Say] = {
    "safe": lambda _b, _n: "Engine off, key out, battery and fan unplugged, hot parts cold",
    "bracket": lambda b, n: f"Bolt {b.bracket(n.of[0]).label} on, finger tight",
    "threads": lambda b, n: (
        f"Chase and blow out the threads for {_shaft(b, n).label}; try each bolt by hand to its depth"
    ),
    "unit": lambda b, n: f"Hang {_shaft(b, n).label} on, spacers in, finger tight",
    "pulley": _put_on,
    "align": lambda b, n: f"Line {_drive(b, n).label} up: every groove in one plane",
    "mount": lambda b, n: f"Tighten the bolts of {_shaft(b, n).label} to their torque",
    "belt": _belt,
    "last": lambda b, n: f"Bolt {_shaft(b, n).label} in against the belt, square, to its torque",
    "tension": _tension,
    "mount_adjuster": lambda b, n: (
        f"Tighten {_shaft(b, n).label}, which sets the belt, to its torque"
    ),
    "jam": lambda b, n: f"Lock the screw of {_shaft(b, n).label} with its jam nut",
    "fixing": lambda b, n: (
        f"Tighten what holds the pulley of {_pulley(b, n)[2].label}: the belt holds it now"
    ),
    "turn": lambda _b, _n: "Turn the engine twice by hand at the crank bolt, its own way",
    "recheck": lambda b, n: f"Look at {_drive(b, n).label} again: mark, tone, planes",
    "clear": lambda _b, _n: "Tools out, hands and hair clear, guards on",
    "start": lambda _b, _n: "Start it: belts run straight and quiet",
    "hot": lambda _b, _n: "Let it get hot, stop it, look again",
    "first": lambda b, n: f"After the first 150 km, an hour or three passes: {_drive(b, n).label}",
    "own": lambda b, n: next((step.words for step in b.fit_up.own if step.id == n.of[0]), n.of[0]),
}


def _cautions(build: Build, node: Node) -> list[str]:
    kind, said = node.kind, []
    if kind == "safe":
        said.append("A fan can start by itself, with the key out: unplug it.")
    if kind == "threads" and any(
        boss.material == "aluminium"
        for stack in build.stacks
        if stack.shaft == node.of[0]
        for ear in stack.ears
        if (boss := build.find_boss(ear.boss)) is not None
    ):
        said.append("Aluminium strips: depth first, then torque.")
    if kind == "unit" and _shaft(build, node).kind in (
        "alternator",
        "power_steering",
        "compressor",
    ):
        said.append("Nothing is pried against its case: use its lug or bracket.")
    if kind == "pulley":
        fixing = _pulley(build, node)[2].nose_fixing
        if fixing == "pressed":
            said.append("The tool, not a hammer; clean, dry, stopped at its depth.")
        if fixing == "keyed":
            said.append("The key seats over its whole length, in both slots.")
    if kind == "align":
        said.append("A laser never into eyes.")
    if kind in ("mount", "mount_adjuster", "last"):
        said.append("In rounds, in even steps; the builder's own figure rules.")
    if kind in ("belt", "tension"):
        said += _of_tension(build, _drive(build, node), kind)
    if kind == "turn":
        said.append("Nobody at the key.")
    if kind == "start":
        said.append("Hands, sleeves and tools clear of every belt; stand beside it, not before it.")
    if kind == "hot":
        said.append("Hot parts burn: let it stand before hands go in.")
    return said


def _of_tension(build: Build, drive: Drive, kind: str) -> list[str]:
    held, said = drive.tensioner, []
    if isinstance(held, SpringArmTensioner):
        said.append(
            "The spring bites: know which bolt mounts it and which holds it together; a bar that slips"
            " breaks hands."
        )
    if isinstance(held, LockedTensioner) and kind == "tension":
        said.append("By screw, lug or bracket, never by the case.")
    if isinstance(held, StretchTensioner):
        said.append("With the tool made for it; taken off once, it is not used again.")
    return said


def _looks(build: Build, node: Node) -> list[str]:
    kind = node.kind
    if kind == "unit":
        return ["it sits flat on every ear", "it turns freely by hand"]
    if kind == "pulley":
        return ["it runs true by hand", "seated to its shoulder"]
    if kind == "align":
        return ["no edge of a straightedge stands off", "tilt both ways"]
    if kind == "belt":
        return ["every rib in its groove, on every pulley", "the way it runs, if it has one"]
    if kind in ("tension", "recheck"):
        return ["the mark", "the tone", "every groove once more"]
    if kind == "turn":
        return ["no tight place", "the mark within a degree, the tone within 3 % of before"]
    if kind == "start":
        return ["walking", "wobble", "flutter", "noise", "charge", "steering"]
    if kind == "hot":
        return ["edges", "dust", "each pulley's heat against the others", "bolts"]
    if kind == "first":
        return ["mark and tone", "edges", "dust", "bolts by their paint"]
    return []
