"""Write the published JSON Schema of the build file from the model."""

from __future__ import annotations

import json
from pathlib import Path

import msgspec

from jovial_tack.document.model import Build

TARGET = Path(__file__).parents[1] / "src/jovial_tack/data/schema/build.schema.json"

if __name__ == "__main__":
    schema = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **msgspec.json.schema(Build),
    }
    TARGET.write_text(json.dumps(schema, indent=1, ensure_ascii=False) + "\n", "utf-8")
