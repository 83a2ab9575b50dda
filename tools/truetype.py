"""Write the shipped typeface of paper drawings as TrueType, which PDFs take, from its other form.

usage: tools/truetype.py      needs fontTools, which the program itself does not; done once, not in CI
"""

from __future__ import annotations

from pathlib import Path

FONTS = Path(__file__).parents[1] / "src/jovial_tack/data/fonts"
MOST_OFF_UNITS = 0.5


def as_truetype(source: Path, target: Path) -> None:
    """One typeface: cubic outlines as quadratic ones, at most half a unit off."""
    from fontTools.fontBuilder import FontBuilder
    from fontTools.pens.cu2quPen import Cu2QuPen
    from fontTools.pens.ttGlyphPen import TTGlyphPen
    from fontTools.ttLib import TTFont

    old = TTFont(source)
    glyphs = old.getGlyphSet()
    drawn = {}
    for name in old.getGlyphOrder():
        pen = TTGlyphPen(glyphs)
        glyphs[name].draw(Cu2QuPen(pen, MOST_OFF_UNITS, reverse_direction=True))
        drawn[name] = pen.glyph()
    builder = FontBuilder(old["head"].unitsPerEm, isTTF=True)
    builder.setupGlyphOrder(old.getGlyphOrder())
    builder.setupCharacterMap(old.getBestCmap())
    builder.setupGlyf(drawn)
    table = builder.font["glyf"]
    widths = {
        name: (width, getattr(table[name], "xMin", 0))
        for name, (width, _) in old["hmtx"].metrics.items()
    }
    builder.setupHorizontalMetrics(widths)
    head, names = old["hhea"], old["name"]
    builder.setupHorizontalHeader(ascent=head.ascent, descent=head.descent)
    builder.setupNameTable(
        {
            "copyright": names.getDebugName(0),
            "familyName": names.getDebugName(1),
            "styleName": names.getDebugName(2),
            "uniqueFontIdentifier": f"{names.getDebugName(6)}, TrueType",
            "fullName": names.getDebugName(4),
            "psName": names.getDebugName(6),
            "licenseDescription": names.getDebugName(13) or "SIL Open Font License 1.1",
        }
    )
    builder.setupOS2(sTypoAscender=head.ascent, sTypoDescender=head.descent)
    builder.setupPost()
    builder.font["head"].created = builder.font["head"].modified = old["head"].modified
    builder.font.recalcTimestamp = False
    builder.save(target)


if __name__ == "__main__":
    for weight in ("Regular", "Bold"):
        as_truetype(FONTS / f"B612-{weight}.otf", FONTS / f"B612-{weight}.ttf")
