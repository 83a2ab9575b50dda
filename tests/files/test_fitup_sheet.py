"""The steps on paper, read back by another library."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

from pypdf import PdfReader

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.fit_up.steps import steps_of
from jovial_tack.catalogue import load_catalogue
from support import DEMO, built


def test_every_step_is_on_paper_once_with_its_figures_in_both_papers(tmp_path: Path) -> None:
    written = []
    for seed, paper in ((1, "a4"), (2, "a4"), (1, "letter")):
        path = tmp_path / f"{seed}-{paper}.pdf"
        asked = [sys.executable, "-m", "jovial_tack", "fitup", str(DEMO)]
        subprocess.run(
            [*asked, "--pdf", str(path), "--paper", paper],
            check=True,
            capture_output=True,
            env={"PYTHONHASHSEED": str(seed), "PATH": "/usr/bin:/bin"},
        )
        written.append(path.read_bytes())
    assert written[0] == written[1]
    build = built(json.loads(DEMO.read_text()))
    steps = steps_of(build, solve(build, None, load_catalogue()), load_catalogue())
    for paper, size in (("a4", (595, 842)), ("letter", (612, 792))):
        reader = PdfReader(tmp_path / f"1-{paper}.pdf")
        pages = [page.extract_text() for page in reader.pages]
        assert all(f"{k} of {len(pages)}" in text for k, text in enumerate(pages, 1))
        text = " ".join(" ".join(pages).split())
        assert all(text.count(f"{step.words}.") >= 1 for step in steps.steps)
        assert text.count("mark ______") == 6  # two drives, each looked at three times
        for page in reader.pages:
            assert tuple(round(float(side)) for side in page.mediabox[2:]) == size
            resources: Any = page["/Resources"]
            fonts = [font.get_object() for font in resources["/Font"].values()]
            assert fonts and all("/FontFile2" in font["/FontDescriptor"] for font in fonts)
