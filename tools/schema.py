"""Write the published JSON Schema of the build file from the model.

usage: tools/schema.py [--check]      with --check: only say whether it is up to date
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import msgspec

from jovial_tack.document.model import Build

TARGET = Path(__file__).parents[1] / "src/jovial_tack/data/schema/build.schema.json"


def schema_text() -> str:
    """The schema as the text of its file."""
    schema = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **msgspec.json.schema(Build),
    }
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    if "--check" not in sys.argv:
        TARGET.write_text(schema_text(), "utf-8")
    elif TARGET.read_text("utf-8") != schema_text():
        sys.exit("The schema is not that of the model: run tools/schema.py")
