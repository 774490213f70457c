"""Texts that keep clear of each other: each takes the first of its places that nothing else covers."""

from collections.abc import Iterable, Sequence

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter

from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

AIR_PX = 2.0
# a place for a text: where its baseline is, and whether the point is its left end, its middle or its right end
Spot = tuple[QPointF, str]


def box_of(text: str, font: QFont, at: QPointF, align: str) -> QRectF:
    """The paper that one line of text covers."""
    metrics, wide = QFontMetricsF(font), fonts.width(font, text)
    left = at.x() - (wide if align == "right" else wide / 2 if align == "center" else 0.0)
    # figures and small letters: what stands below the line needs no room
    return QRectF(left, at.y() - metrics.capHeight(), wide, metrics.capHeight() + 1)


class Labels:
    """The texts of one drawing, in the order of their weight: the first come have their place."""

    def __init__(self, painter: QPainter, theme: Theme, inside: QRectF | None = None) -> None:
        self._painter, self._theme, self._inside = painter, theme, inside
        self.taken: list[QRectF] = []

    def keep(self, box: QRectF) -> None:
        """No text lies here."""
        self.taken.append(box)

    def put(
        self, text: str, spots: Sequence[Spot], role: str = "ink", *, font: QFont | None = None, ground: str | None = None,
        must: bool = True,
    ) -> QRectF | None:  # fmt: skip
        """Write at the first free place; where none is free at the least covered one, or, with `must` off, nowhere."""
        use = font or fonts.text(12)
        boxes = [box_of(text, use, at, align) for at, align in spots]
        covered = [self._covered(box) for box in boxes]
        best = min(range(len(spots)), key=lambda n: covered[n])
        if covered[best] > 0 and not must:
            return None
        at, align = spots[best]
        words(self._painter, self._theme, text, at.x(), at.y(), role, font=use, align=align, ground=ground)
        self.taken.append(boxes[best])
        return boxes[best]

    def _covered(self, box: QRectF) -> float:
        """How much of a place is taken or off the drawing, square px."""
        wide = box.adjusted(-AIR_PX, -AIR_PX, AIR_PX, AIR_PX)
        total = sum(_area(wide.intersected(other)) for other in self.taken)
        return total if self._inside is None else total + _area(box) - _area(box.intersected(self._inside))


def _area(box: QRectF) -> float:
    return max(box.width(), 0.0) * max(box.height(), 0.0)


def in_a_row(wanted: Iterable[float], gap: float) -> list[float]:
    """Places along a line, in rising order, at least `gap` apart and as near as can be to those that are wanted.

    Neighbours that are too close are moved apart about their common middle (pool adjacent violators on the places less
    their rank times the gap, the least squares answer).
    """
    pools: list[tuple[float, int]] = []
    for n, x in enumerate(wanted):
        mean, count = x - n * gap, 1
        while pools and pools[-1][0] > mean:
            before, many = pools.pop()
            mean, count = (before * many + mean * count) / (many + count), many + count
        pools.append((mean, count))
    level = [mean for mean, count in pools for _ in range(count)]
    return [x + n * gap for n, x in enumerate(level)]
