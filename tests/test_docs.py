"""The docs name what is there."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
DOCS = ("README.md", "CONTRIBUTING.md", "LICENSES.md", "docs/ARCHITECTURE.md", "docs/METHOD.md")
#: A path in backticks, by its ending or its stroke; with ": name" for what stands in it.
NAMED = re.compile(r"`([\w.-]+(?:/[\w.-]+)*(?:/|\.(?:py|toml|md|sh|json|jtack|png)))(?:: (\w+))?`")
LINKED = re.compile(r"\]\(([^)#:]+)\)")


def found(path: str, beside: Path) -> Path | None:
    """A path from the root, from the package, or of a file beside the one named before it."""
    places = (ROOT, ROOT / "src/jovial_tack", beside, ROOT / "src/jovial_tack/data/catalogue")
    return next((at / path for at in places if (at / path).exists()), None)


@pytest.mark.parametrize("name", DOCS)
def test_every_path_named_in_the_docs_exists(name: str) -> None:
    text, beside = (ROOT / name).read_text("utf-8"), ROOT
    for path, inside in NAMED.findall(text):
        place = found(path, beside)
        assert place is not None, f"{name} names {path}, which is not there"
        beside = place.parent
        if inside:
            assert re.search(rf"\b{inside}\b", place.read_text("utf-8")), f"{path}: no {inside}"
    for path in LINKED.findall(text):
        assert ((ROOT / name).parent / path).exists(), f"{name} links {path}, which is not there"
