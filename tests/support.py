"""Reference cases and the demo build, as data and as builds."""

from __future__ import annotations

import copy
import json
from pathlib import Path
from typing import Any

from jovial_tack.build.load import build_from_json
from jovial_tack.build.model import Build
from jovial_tack.catalogue import load_catalogue

CASES = {path.stem: path for path in sorted((Path(__file__).parent / "data/cases").glob("*.json"))}
DEMO = Path(__file__).parents[1] / "src/jovial_tack/data/demo/tessary-fen.jtack"


def read_case(name: str) -> dict[str, Any]:
    return json.loads(CASES[name].read_text("utf-8"))


def built(data: dict[str, Any]) -> Build:
    return build_from_json(copy.deepcopy(data), load_catalogue())[0]
