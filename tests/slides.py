"""Drives on slots and swings for tests, and a plain account of them."""

from __future__ import annotations

import cmath
import json
import math
from typing import Any

import numpy as np

from jovial_tack.answers.lay_out.suited import set_spring_slide
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.model import Build, dump
from plain import Plain
from support import built, read_case

CORD, BACK = 1.6, 1.1


FROM, TO = (250.0, -40.0), (390.0, 40.0)


SLOT = {"type": "slot", "from_mm": list(FROM), "to_mm": list(TO)}


SWING = {
    "type": "swing", "pivot_mm": [200.0, 120.0], "radius_mm": 150.0, "from_deg": -110.0, "to_deg": 20.0,
}  # fmt: skip


def two_pulleys(mount: dict[str, Any], length: float | None, idler: bool = False) -> dict[str, Any]:
    data = read_case("two_pulleys_locked")["build"]
    drive = data["drives"][0]
    driven = next(s for s in data["shafts"] if s["id"] == drive["tensioner"]["shaft"])
    driven["mount"] = mount
    drive["belt"]["effective_length_mm"] = length
    if length is None:
        del drive["belt"]["effective_length_mm"]
    if idler:  # on the belt's back, so that the path need not grow along the travel
        data["shafts"].append({"id": "i", "kind": "idler", "center_mm": [170.0, -95.0]})
        drive["pulleys"].append({"id": "i", "shaft": "i", "diameter_mm": 80, "side": "back"})
        drive["route"].append("i")
    return dict(data)


def center_at(mount: dict[str, Any], share: float) -> complex:
    if mount["type"] == "slot":
        start, end = complex(*mount["from_mm"]), complex(*mount["to_mm"])
        return start + share * (end - start)
    angle = mount["from_deg"] + share * (mount["to_deg"] - mount["from_deg"])
    return complex(*mount["pivot_mm"]) + cmath.rect(mount["radius_mm"], math.radians(angle))


def plain_length(data: dict[str, Any], share: float) -> float:
    """Cord length of the path by angles and arcs, with the shaft at a share of its travel."""
    drive = data["drives"][0]
    moved = drive["tensioner"]["shaft"]
    sign = -1.0 if data["engine"]["crank_rotation"] == "cw" else 1.0
    centers, rho = [], []
    for name in drive["route"]:
        pulley = next(p for p in drive["pulleys"] if p["id"] == name)
        shaft = next(s for s in data["shafts"] if s["id"] == pulley["shaft"])
        ribs = pulley["side"] == "ribs"
        here = complex(*shaft["center_mm"])
        centers.append(center_at(shaft["mount"], share) if shaft["id"] == moved else here)
        rho.append(
            (sign if ribs else -sign) * (pulley["diameter_mm"] / 2 + (CORD if ribs else BACK))
        )
    still = Plain(centers, rho, [1.0] * len(rho), 0, 1.0, 1.0, 0.0, 0.1)
    return still.total(0.0)


def slid(seed: int = 0) -> Build:
    """A reference drive whose arm's pulley slides on a slot instead, drawn in place, way and spring."""
    rng = np.random.default_rng(seed)
    name = ["accessory_spring_arm", "blower_spring_arm"][seed % 2]
    data: dict[str, Any] = read_case(name)["build"]
    build = built(data)
    drive = build.drives[0]
    assert drive.tensioner is not None
    build = set_spring_slide(build, drive.id, drive.tensioner.pulley, load_catalogue())  # type: ignore[union-attr]
    told = json.loads(json.dumps(dump(build)))
    slide = told["drives"][0]["tensioner"]
    slide["force_n"] *= float(rng.uniform(0.8, 1.3))
    slide["rate_n_per_mm"] *= float(rng.uniform(0.0, 3.0))
    return built(told)
