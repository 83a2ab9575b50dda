from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import pytest

sys.path.insert(0, str(Path(__file__).parent))

from jovial_tack.catalogue import Catalogue, load_catalogue
from support import DEMO, read_case


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return load_catalogue()


@pytest.fixture
def demo_data() -> dict[str, Any]:
    return json.loads(DEMO.read_text("utf-8"))


@pytest.fixture
def case_data() -> dict[str, Any]:
    return read_case("accessory_spring_arm")["build"]
