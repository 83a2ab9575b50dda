from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings

sys.path.insert(0, str(Path(__file__).parent))

from drawn import KINDS
from jovial_tack.catalogue import Catalogue, load_catalogue
from support import DEMO, read_case

# a machine that halts for a second while a figure is drawn is no fault of a test
settings.register_profile("anywhere", suppress_health_check=[HealthCheck.too_slow], deadline=None)
settings.load_profile("anywhere")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--drawn", type=int, default=len(KINDS), help="how many drives are drawn")
    parser.addoption("--roads", type=int, default=60, help="how many pulls are driven")


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """Tests that ask for a `drawing` are run on that many drives drawn at random."""
    if "drawing" in metafunc.fixturenames:
        metafunc.parametrize("drawing", range(metafunc.config.getoption("--drawn")))


@pytest.fixture(autouse=True)
def own_folders(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """Settings, recovery files and the log of a test stay in folders of its own."""
    home = tmp_path_factory.mktemp("home")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(home / "config"))
    monkeypatch.setenv("XDG_STATE_HOME", str(home / "state"))
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return load_catalogue()


@pytest.fixture
def demo_data() -> dict[str, Any]:
    data: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
    return data


@pytest.fixture
def case_data() -> dict[str, Any]:
    data: dict[str, Any] = read_case("accessory_spring_arm")["build"]
    return data
