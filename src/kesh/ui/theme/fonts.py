"""The two families that ship with Kesh, by use."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from importlib.resources import files

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QFontDatabase, QFontMetricsF


class _Paper(threading.local):
    """Whether this thread paints on paper; the window's thread may paint on the screen meanwhile."""

    on = False


TEXT, BOOK = "Carlito", "Gentium Book Plus"
_scale = 1.0
_paper = _Paper()
LIGATURES = (b"liga", b"clig", b"dlig")


def load() -> None:
    """Register the shipped fonts; safe to call twice."""
    if TEXT in QFontDatabase.families() and BOOK in QFontDatabase.families():
        return
    for entry in files("kesh.ui.theme").joinpath("fonts").iterdir():
        if entry.name.endswith(".ttf"):
            QFontDatabase.addApplicationFontFromData(entry.read_bytes())


def set_scale(percent: int) -> None:
    """Text size for all fonts made from now on, 80 to 200 %."""
    global _scale
    _scale = min(max(percent, 80), 200) / 100


def scaled(px: float) -> int:
    """A length in px that follows the text size; on paper it is plain."""
    return round(px if _paper.on else px * _scale)


def _font(family: str, px: float, bold: bool = False, italic: bool = False, tags: tuple[bytes, ...] = ()) -> QFont:
    size = max(11, round(px if _paper.on else px * _scale))
    return _made(family, size, bold, italic, tags, _paper.on)


@lru_cache(maxsize=512)
def _made(family: str, size: int, bold: bool, italic: bool, tags: tuple[bytes, ...], paper: bool) -> QFont:
    """A font is made once and shared: a drawing asks for some forty in every frame. Nobody changes it."""
    font = QFont(family)
    font.setPixelSize(size)
    font.setBold(bold)
    font.setItalic(italic)
    for tag in LIGATURES if paper else ():
        font.setFeature(QFont.Tag(tag), 0)
    for tag in tags:
        font.setFeature(QFont.Tag(tag), 1)
    if b"smcp" in tags:
        font.setLetterSpacing(QFont.SpacingType.PercentageSpacing, 105)
    return font


@contextmanager
def on_paper() -> Iterator[None]:
    """Fonts of their plain size, whatever the screen's, and without ligatures: words can be searched in a PDF."""
    _paper.on = True
    try:
        yield
    finally:
        _paper.on = False


def text(px: float = 14, bold: bool = False, italic: bool = False) -> QFont:
    """Body, findings, inputs, axis figures."""
    return _font(TEXT, px, bold, italic, (b"tnum", b"lnum"))


def book(px: float = 18, bold: bool = False, italic: bool = False) -> QFont:
    """Titles, names of trees and pots, captions."""
    return _font(BOOK, px, bold, italic)


def section() -> QFont:
    """Section heads in true small capitals."""
    return _font(BOOK, 16, tags=(b"smcp",))


def width(font: QFont, told: str) -> float:
    """How wide a line of text runs, px; on the screen it is reckoned once."""
    return QFontMetricsF(font).horizontalAdvance(told) if _paper.on else _width(font, told)


@lru_cache(maxsize=4096)
def _width(font: QFont, told: str) -> float:
    return QFontMetricsF(font).horizontalAdvance(told)


def elided(font: QFont, told: str, room_px: float) -> str:
    """As much of a line as has room, with dots where something is left out."""
    return QFontMetricsF(font).elidedText(told, Qt.TextElideMode.ElideRight, max(room_px, 0.0))
