"""The card for the counter as a picture for a telephone, or as text."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

from jovial_tack.answers.belt.counter_card import CounterCard
from jovial_tack.core.errors import SaveError
from jovial_tack.core.words import capital
from jovial_tack.files.needed import NO_TYPEFACE
from jovial_tack.files.whole import replace_file

_WIDE, _EDGE = 1080, 64
_FONTS = Path(__file__).parents[1] / "data/fonts"
_INK, _PAPER, _FADED, _RULE = "#1b2440", "#ffffff", "#5b6070", "#c9c9c9"


def write_card(card: CounterCard, path: Path) -> None:
    """Write a card, by the ending of its name. Raises SaveError, for another ending too."""
    kind = path.suffix.lower()
    if kind == ".txt":
        replace_file(path, (card.text + "\n").encode())
    elif kind == ".png":
        replace_file(path, card_png(card))
    else:
        raise SaveError(f"{path.name}: a card ends in .png or .txt")


def card_png(card: CounterCard) -> bytes:
    """The bytes of the picture, upright, legible at arm's length on a telephone."""
    from PIL import Image, ImageDraw

    # laid out twice: once to know how tall it is
    tall = _draw(ImageDraw.Draw(Image.new("RGB", (_WIDE, 100), _PAPER)), card)
    picture = Image.new("RGB", (_WIDE, tall), _PAPER)
    _draw(ImageDraw.Draw(picture), card)
    stream = io.BytesIO()
    picture.save(stream, "PNG", optimize=False)
    return stream.getvalue()


def _draw(canvas: Any, card: CounterCard) -> int:
    """Draw the card; returns how tall it is."""
    from PIL import ImageFont

    def font(size: int, bold: bool = False) -> Any:
        name = "B612-Bold.ttf" if bold else "B612-Regular.ttf"
        try:
            return ImageFont.truetype(str(_FONTS / name), size)
        except OSError:
            raise SaveError(NO_TYPEFACE) from None

    def put(text: str, size: int, y: int, *, bold: bool = False, ink: str = _INK) -> int:
        used = font(size, bold)
        for line in _in_lines(canvas, text, used):
            canvas.text((_EDGE, y), line, font=used, fill=ink)
            y += round(1.3 * size)
        return y

    (_, number), *others = card.numbers
    y = put(card.drive, 44, _EDGE, ink=_FADED)
    y = put(number, 128, y + 12, bold=True) + 8
    for scheme, name in others:
        y = put(f"{name}  ({scheme})", 44, y)
    y = put(f"{capital(card.width)}, {card.length} effective", 52, y + 24, bold=True)
    y = put(f"Grade: {card.grade}", 48, y + 6)
    if card.second is not None:
        canvas.line((_EDGE, y + 26, _WIDE - _EDGE, y + 26), fill=_RULE, width=3)
        y = put("Second choice", 40, y + 46, ink=_FADED)
        y = put(" = ".join(card.second), 56, y + 4, bold=True)
    canvas.line((_EDGE, y + 26, _WIDE - _EDGE, y + 26), fill=_RULE, width=3)
    y = put("Not to take", 40, y + 46, ink=_FADED) + 4
    for each in card.not_to_take:
        y = put(f"×  {each}", 44, y)
    return put(card.title, 32, y + 30, ink=_FADED) + _EDGE


def _in_lines(canvas: Any, text: str, font: Any) -> list[str]:
    """Words in lines that have room."""
    lines = [""]
    for word in text.split(" "):
        tried = f"{lines[-1]} {word}" if lines[-1] else word
        if lines[-1] and canvas.textlength(tried, font=font) > _WIDE - 2 * _EDGE:
            lines.append(word)
        else:
            lines[-1] = tried
    return lines
