"""Drives with something wrong, drawn at random: one kind of adjuster or belt after the other."""

from __future__ import annotations

import copy
import json
from typing import Any

import numpy as np

from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.model import Build, dump
from layouts import moved
from slides import SLOT, SWING, two_pulleys
from support import DEMO, built, read_case

CATALOGUE = load_catalogue()
DEMO_DATA: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
LAID_OUT = [json.loads(json.dumps(dump(make(CATALOGUE)))) for _, make in LAYOUTS]
KINDS = (
    "arm", "blower arm", "demo", "laid out", "fixed", "slot", "swing", "stretch", "V", "toothed",
)  # fmt: skip


def kind_of(seed: int) -> str:
    return KINDS[seed % len(KINDS)]


def drawn(seed: int) -> Build:
    """A drive with something wrong: loads, springs, pulls, belts, notches and shelves at random."""
    rng = np.random.default_rng(seed)
    data = _started(kind_of(seed), seed // len(KINDS), rng)
    _load(data, rng)
    for drive in data["drives"]:
        _tension(drive, rng)
    for drive in data["drives"]:
        if rng.random() < 0.5:
            data.setdefault("shelf", []).extend(_parts(data, drive, rng))
    return built(data)


def _started(kind: str, turn: int, rng: np.random.Generator) -> dict[str, Any]:
    if kind in ("arm", "blower arm", "demo"):
        cases = {"arm": "accessory_spring_arm", "blower arm": "blower_spring_arm"}
        data = copy.deepcopy(DEMO_DATA) if kind == "demo" else read_case(cases[kind])["build"]
        turned = rng.random() < 0.3 and not data.get("obstacles")
        return moved(data, turn_deg=float(rng.uniform(-40, 40))) if turned else data
    if kind == "laid out":
        return copy.deepcopy(LAID_OUT[turn % len(LAID_OUT)])
    length = float(rng.uniform(980.0, 1080.0))
    if kind in ("slot", "swing"):
        idler = kind == "slot" and bool(rng.random() < 0.4)
        return two_pulleys(copy.deepcopy(SLOT if kind == "slot" else SWING), length, idler)
    data = read_case("two_pulleys_locked")["build"]
    if kind == "stretch":
        _stretched(data, rng)
    elif kind == "V":
        data = two_pulleys(copy.deepcopy(SLOT), length)
        _in_a_v(data, rng)
    elif kind == "toothed":
        _toothed(data)
    return data


def _stretched(data: dict[str, Any], rng: np.random.Generator) -> None:
    """Fixed centres, with a belt that stretches or one that does not."""
    drive = data["drives"][0]
    drive["tensioner"] = {"type": "stretch"}
    _catalogued(drive["belt"], construction=str(rng.choice(["stretch", "stretch", "standard"])))
    drive["belt"]["effective_length_mm"] -= float(rng.choice([0.0, 5.0, 10.0, 15.0]))


def _in_a_v(data: dict[str, Any], rng: np.random.Generator) -> None:
    profile = str(rng.choice(["SAE 0.380", "SAE 0.500", "A"]))
    belt = data["drives"][0]["belt"]
    _catalogued(belt, profile=profile, ribs=int(rng.choice([1, 2])), construction="standard")


def _toothed(data: dict[str, Any]) -> None:
    data["shafts"][1]["mount"] = {"type": "slot", "from_mm": [170, 230], "to_mm": [215, 285]}
    drive = data["drives"][0]
    drive["belt"] = {"profile": "8M", "ribs": 30, "effective_length_mm": 1040.0}
    for pulley, teeth in zip(drive["pulleys"], (64, 32), strict=True):
        pulley["diameter_mm"] = teeth * 8 / np.pi - 2 * 0.686


def _catalogued(belt: dict[str, Any], **figures: Any) -> None:
    """Another belt, with the figures of the catalogue."""
    for key in [key for key in belt if key.endswith("_per_rib") or key.startswith("friction")]:
        del belt[key]
    belt |= figures


def _load(data: dict[str, Any], rng: np.random.Generator) -> None:
    for shaft in data["shafts"]:
        load = shaft.get("load", {})
        for key in ("torque_nm", "power_kw"):
            if key in load:
                factor = rng.uniform(0.5, 2.0)
                load[key] = (np.asarray(load[key]) * factor).tolist()
        if shaft["kind"] == "alternator" and rng.random() < 0.5:
            shaft["hub_load_limit_n"] = float(rng.uniform(600, 2500))


def _tension(drive: dict[str, Any], rng: np.random.Generator) -> None:
    tensioner, belt = drive["tensioner"], drive["belt"]
    if tensioner["type"] == "spring_arm":
        tensioner["torque_nm"] *= rng.uniform(0.5, 2.5)
        tensioner["damping_fraction"] = float(rng.uniform(0.0, 0.4))
        tensioner |= {"notches_deg": [0.0, 6.0, -6.0], "notch": 0}
    elif tensioner["type"] == "locked":
        tensioner["installed_tension_n"] *= rng.uniform(0.4, 2.5)
    if belt.get("effective_length_mm"):
        belt["effective_length_mm"] += float(rng.choice([-10, -5, 0, 0, 5, 10]))


def _parts(
    data: dict[str, Any], drive: dict[str, Any], rng: np.random.Generator
) -> list[dict[str, Any]]:
    """A pulley like one there but larger or smaller or coated, and a tensioner with another spring."""
    parts: list[dict[str, Any]] = []
    name, factor = drive["id"], float(rng.choice([0.85, 0.95, 1.1, 1.25]))
    like = drive["pulleys"][int(rng.integers(len(drive["pulleys"])))]
    kind = next(s["kind"] for s in data["shafts"] if s["id"] == like["shaft"])
    parts.append({
        "id": f"{name}-pulley", "name": f"{name} pulley",
        "kind": "idler" if kind in ("idler", "tensioner") else "pulley",
        "diameter_mm": round(like["diameter_mm"] * factor, 1), "side": like["side"],
        "friction_scale": float(rng.choice([1.0, 1.3])),
    })  # fmt: skip
    if drive["tensioner"]["type"] == "spring_arm":
        pull = float(rng.uniform(150, 900))
        parts.append({
            "id": f"{name}-arm", "name": f"{name} arm", "kind": "tensioner",
            "arm_mm": drive["tensioner"]["arm_mm"],
            "readings": [[5.0, pull], [25.0, pull * 1.2]],
        })  # fmt: skip
    return parts
