"""Print the part of requirements.lock that running the program needs, hashes and all."""

from __future__ import annotations

import re
from importlib.metadata import requires
from pathlib import Path

LOCK = Path(__file__).parents[1] / "requirements.lock"


def canonical(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def needed(name: str, found: set[str]) -> set[str]:
    """A distribution and all it needs here, leaving out extras."""
    for line in requires(name) or []:
        other = canonical(re.match(r"[\w.-]+", line)[0])  # type: ignore[index]
        if "extra ==" not in line and other not in found:
            found.add(other)
            needed(other, found)
    return found


def main() -> None:
    wanted = needed("jovial-tack", set())
    for block in re.split(r"(?m)^(?=[A-Za-z])", LOCK.read_text("utf-8")):
        if canonical(block.partition("==")[0]) in wanted:
            print(block, end="")


if __name__ == "__main__":
    main()
