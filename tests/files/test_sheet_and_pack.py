"""The build sheet read back by another library, the card for the counter, packed builds."""

from __future__ import annotations

import hashlib
import io
import json
import stat
import subprocess
import sys
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from jovial_tack.answers.belt.counter_card import counter_card
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError, SaveError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.logbook import add_attachment
from jovial_tack.files.attachments import attach, attachment_findings, place_of
from jovial_tack.files.build_file import read_build, write_build
from jovial_tack.files.pack import pack, unpack
from jovial_tack.files.paper.build_sheet import SIGNATURE, UNKNOWN
from jovial_tack.files.plates.pdf import WORDS_FONT, load_fonts
from support import DEMO, built

CATALOGUE = load_catalogue()
DEMOS = [DEMO.with_name(f"{name}.jtack") for name in ("tessary-fen", "brindle-quay", "oskar-mill")]


def text_of(reader: PdfReader) -> str:
    return " ".join(" ".join(page.extract_text() for page in reader.pages).split())


def kept_picture(folder: Path) -> Path:
    """A demo build with a large photo that knows where it was taken, and one that went missing."""
    file = folder / "build.jtack"
    build = built(json.loads(DEMO.read_text()))
    pixels, exif = Image.new("RGB", (4000, 3000), "#884422"), Image.Exif()
    exif[0x8825] = {1: "N", 2: (52.0, 30.0, 0.0)}
    pixels.save(folder / "edge.jpg", exif=exif)
    event = build.logbook.events[0].id
    found = attach(file, folder / "edge.jpg")
    for path, caption in ((found.path, "frayed edge"), ("gone.png", "a lost one")):
        build, _ = add_attachment(build, path, found.sha256, found.size, of=event, caption=caption)
    write_build(build, file)
    return file


def test_one_page_says_it_all_and_the_same_bytes_in_any_process(tmp_path: Path) -> None:
    written = []
    for seed in (1, 2):
        path = tmp_path / f"{seed}.pdf"
        subprocess.run(
            [sys.executable, "-m", "jovial_tack", "sheet", str(DEMO), "--pdf", str(path),
             "--on", "2026-11-29"],
            check=True, capture_output=True, env={"PYTHONHASHSEED": str(seed), "PATH": "/usr/bin"},
        )  # fmt: skip
        written.append(path.read_bytes())
    assert written[0] == written[1]
    reader = PdfReader(tmp_path / "1.pdf")
    text = text_of(reader)
    assert len(reader.pages) == 1 and "1 of 1" in text
    checksum = hashlib.sha256(DEMO.read_bytes()).hexdigest()[:12]
    for said in (
        "Tessary Fen", "7PK1615", "10PK1195", "arm 81.6°, 51 % of window", "144 Hz",
        "105 % at Corvane 61",
        "0.47°", "Belt of Blower drive: 87 % by distance", SIGNATURE, checksum,
        "Corvane 61 slips from",
    ):  # fmt: skip
        assert said in text, said


@pytest.mark.parametrize("demo", DEMOS, ids=lambda path: path.stem)
def test_the_whole_is_one_sheet_after_another_with_its_own_typeface(
    demo: Path, tmp_path: Path
) -> None:
    for paper, size in (("a4", (595, 842)), ("letter", (612, 792))):
        path = tmp_path / f"{paper}.pdf"
        asked = ["sheet", str(demo), "--pdf", str(path), "--paper", paper, "--whole"]
        assert main([*asked, "--on", "2026-11-29"]) == 0
        reader = PdfReader(path)
        pages = [page.extract_text() for page in reader.pages]
        assert all(f"{k} of {len(pages)}" in text for k, text in enumerate(pages, 1))
        text = text_of(reader)
        build = read_build(demo, CATALOGUE).build
        for shaft in build.shafts:
            assert shaft.label in text
        assert all(event.at in text for event in build.logbook.events) and "Lives" in text
        if build.display_units == "in":
            assert " in (" in text  # both units stand
        for page in reader.pages:
            assert not list(clipped(page, size[0]))
            assert tuple(round(float(side)) for side in page.mediabox[2:]) == size
            resources: Any = page["/Resources"]
            fonts = [font.get_object() for font in resources["/Font"].values()]
            assert all("/FontFile2" in font["/FontDescriptor"] for font in fonts)


def test_pictures_are_scaled_bare_of_their_place_and_told_where_missing(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, out = kept_picture(tmp_path), tmp_path / "out.pdf"
    assert main(["sheet", str(file), "--pdf", str(out), "--whole"]) == 0
    reader = PdfReader(out)
    text = text_of(reader)
    assert "frayed edge" in text and "a lost one: no picture beside the build" in text
    images = [image for page in reader.pages for image in page.images]
    assert len(images) == 1 and max(now_size(images[0])) == 1600
    assert b"Exif" not in out.read_bytes()
    findings = list(attachment_findings(read_build(file, CATALOGUE).build, file))
    assert [(f.code, f.level) for f in findings] == [("attachment_missing", "note")]
    (tmp_path / "build.files" / "edge.jpg").write_bytes(b"another")
    codes = {f.code for f in attachment_findings(read_build(file, CATALOGUE).build, file)}
    assert codes == {"attachment_missing", "attachment_changed"}
    assert main(["logbook", str(file)]) == 0  # told, and never a reason to fail
    assert "edge.jpg: another file than the one attached" in capsys.readouterr().out


def test_nothing_outside_its_folder_is_a_picture_of_a_build(tmp_path: Path) -> None:
    file = kept_picture(tmp_path)
    attachment = read_build(file, CATALOGUE).build.logbook.attachments[0]
    (tmp_path / "build.files" / "link.jpg").symlink_to(tmp_path / "edge.jpg")
    (tmp_path / "build.files" / "way").symlink_to(tmp_path)
    for path in (
        "../edge.jpg",
        "/etc/passwd",
        "C:/x",
        "a/../../edge.jpg",
        "link.jpg",
        "way/edge.jpg",
    ):
        assert place_of(file, changed(attachment, path=path)) is None, path
    assert place_of(file, attachment) == tmp_path / "build.files" / "edge.jpg"


def clipped(page: Any, wide: float) -> Iterator[str]:
    """Words that come nearer to an edge than 6 mm."""
    found: list[tuple[str, float, float]] = []

    def visit(text: str, at: Any, place: Any, _font: Any, size: float) -> None:
        begin = place[0] * at[4] + place[4] if place else at[4]
        for line in text.split("\n"):
            scale = abs(at[0] or 1.0) * abs(place[0] or 1.0) if place else 1.0
            found.append((line, begin, stringWidth(line, WORDS_FONT, size * scale)))

    load_fonts()
    page.extract_text(visitor_text=visit)
    edge = 6 * 72 / 25.4
    for line, begin, width in found:
        if line.strip() and not edge <= begin <= wide - edge - 0.9 * width:
            yield line


def now_size(image: Any) -> tuple[int, int]:
    return Image.open(io.BytesIO(image.data)).size


def test_a_build_in_the_making_is_not_determined(tmp_path: Path) -> None:
    data = json.loads(DEMO.read_text())
    for drive in data["drives"]:
        drive["belt"].pop("effective_length_mm")
        drive.pop("tensioner")
    file, out = tmp_path / "open.jtack", tmp_path / "open.pdf"
    file.write_text(json.dumps(data))
    assert main(["sheet", str(file), "--pdf", str(out)]) == 0
    assert text_of(PdfReader(out)).count(UNKNOWN) >= 6


def test_packed_and_unpacked_is_the_same_build(tmp_path: Path) -> None:
    file, packed = kept_picture(tmp_path), tmp_path / "build.zip"
    build = read_build(file, CATALOGUE).build
    missing = pack(build, file, packed)
    assert missing == ("build.files/gone.png",)
    first = packed.read_bytes()
    pack(build, file, packed)
    assert packed.read_bytes() == first
    again = unpack(packed, tmp_path / "elsewhere")
    assert again.read_bytes() == file.read_bytes()
    assert (again.parent / "build.files/edge.jpg").read_bytes() == (
        tmp_path / "edge.jpg"
    ).read_bytes()
    with pytest.raises(SaveError, match="there already"):
        unpack(packed, tmp_path / "elsewhere")
    assert main(["pack", str(packed), "-o", str(tmp_path / "third")]) == 0
    assert main(["pack", str(file), "-o", str(tmp_path / "fourth.zip")]) == 0


def test_a_pack_that_leads_out_links_or_fills_the_disk_leaves_nothing(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("jovial_tack.files.pack._MOST_IN_ALL", 3_000_000)
    link = zipfile.ZipInfo("build.files/x")
    link.external_attr = (stat.S_IFLNK | 0o777) << 16
    one = ("build.jtack", DEMO.read_bytes())
    bad: list[tuple[list[Any], str]] = [
        ([one, ("../out", b"x")], "leads out"),
        ([one, ("/etc/x", b"x")], "leads out"),
        ([one, ("C:\\x", b"x")], "leads out"),
        ([one, ("a\\..\\..\\x", b"x")], "leads out"),
        ([one, (link, b"/etc/passwd")], "is a link"),
        ([one, ("build.files/A", b"x"), ("build.files/a", b"x")], "twice"),
        ([("a/build.jtack", b"x")], "one build file"),
        ([one, ("other.jtack", b"x")], "one build file"),
        ([one, *((f"f{k}", b"") for k in range(5001))], "more than a build has"),
    ]
    for entries, said in bad:
        path = tmp_path / "bad.zip"
        with zipfile.ZipFile(path, "w") as packed:
            for name, content in entries:
                packed.writestr(name, content)
        with pytest.raises(BuildFileError, match=said):
            unpack(path, tmp_path / "into")
    bomb = tmp_path / "bomb.zip"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(*one)
        with packed.open("build.files/zeros", "w", force_zip64=True) as target:
            for _ in range(4):
                target.write(bytes(1_000_000))
    (tmp_path / "no.zip").write_text("no zip")
    for path, said in ((bomb, "a gigabyte"), (tmp_path / "no.zip", "no packed build")):
        with pytest.raises(BuildFileError, match=said):
            unpack(path, tmp_path / "into")
    assert {path.name for path in tmp_path.iterdir()} == {"bad.zip", "bomb.zip", "no.zip"}


def test_the_card_for_the_counter_in_three_schemes(tmp_path: Path) -> None:
    build = read_build(DEMO, CATALOGUE).build
    card = counter_card(build, "blower", CATALOGUE)
    assert [name for _, name in card.numbers] == ["10PK1180", "10K465", "9100465"]
    assert card.second is not None and card.second[0] != "10PK1180"
    assert "Not: 9 or 11 ribs" in card.text and "standard" in card.text
    picture, text = tmp_path / "card.png", tmp_path / "card.txt"
    for path in (picture, text):
        assert main(["belt", str(DEMO), "--drive", "blower", "--card", str(path)]) == 0
    assert text.read_text() == card.text + "\n"
    shown = Image.open(picture)
    assert shown.width == 1080 and shown.height < 2400 and len(shown.getcolors(100_000) or ()) > 10
    assert main(["belt", str(DEMO), "--card", str(tmp_path / "card.gif")]) == 2
