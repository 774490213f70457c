"""Planned beside done of the last repotting, and what was learnt of it."""

from collections.abc import Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.season.lessons import Pair, last_planned
from kesh.advice.season.life import Life
from kesh.science.season.season import day_words
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

ROW_PX = 20


def draw_pairs(p: QPainter, t: Theme, life: Life, found: Sequence[Pair], top: float, wide: float) -> None:
    """The table below a line; nothing where nothing was planned."""
    event = last_planned(life.events)
    if not found or event is None:
        return
    p.setPen(QPen(t.color("edge"), 1))
    p.drawLine(QLineF(8, top, wide - 8, top))
    base = top + fonts.scaled(17)
    p.setFont(fonts.section())
    p.setPen(t.color("ink"))
    p.drawText(QPointF(12, base), "Planned and done")
    beside = 12 + fonts.width(p.font(), "Planned and done") + 14
    pot = life.book.c.pots.get(event.pot or "")
    words(
        p,
        t,
        f"{'into ' + pot.name + ', ' if pot is not None else ''}{day_words(event.date)} {event.date.year}",
        beside,
        base,
        "quiet",
        font=fonts.text(13),
    )
    columns = {"planned": wide * 0.36, "done": wide * 0.46, "apart": wide * 0.55}
    y = base + fonts.scaled(17)
    for name, x in columns.items():
        words(p, t, name, x, y, "quiet", font=fonts.text(12), align="right")
    words(p, t, "± 10 %", wide * 0.615, y, "quiet", font=fonts.text(12), align="center")
    words(p, t, "what Kesh learnt", wide * 0.67, y, "quiet", font=fonts.text(12))
    for n, row in enumerate(found):
        _pair(p, t, row, y + (n + 1) * fonts.scaled(ROW_PX), columns, wide)


def _pair(p: QPainter, t: Theme, row: Pair, y: float, columns: dict[str, float], wide: float) -> None:
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(8, y - fonts.scaled(14), wide - 8, y - fonts.scaled(14)))
    words(p, t, row.words, 12, y, font=fonts.text(13))
    words(
        p,
        t,
        f"{row.shown(row.planned)} {row.unit}".strip(),
        columns["planned"],
        y,
        "quiet",
        font=fonts.text(13),
        align="right",
    )
    words(
        p,
        t,
        f"{row.shown(row.done)} {row.unit}".strip(),
        columns["done"],
        y,
        font=fonts.text(13, bold=True),
        align="right",
    )
    role = "ink" if row.as_planned else "ochre"
    sign = "+" if row.apart > 0 else "−" if row.apart < 0 else ""
    words(
        p,
        t,
        f"{sign}{row.shown(abs(row.apart))}",
        columns["apart"],
        y,
        role,
        font=fonts.text(13, bold=not row.as_planned),
        align="right",
    )
    x, half, middle = wide * 0.615, 24.0, y - 4
    p.setPen(QPen(t.color("edge"), 1))
    p.drawLine(QLineF(x - half, middle, x + half, middle))
    p.fillRect(QRectF(x - half / 3, middle - 3, 2 * half / 3, 6), t.color("moss_fill"))
    if row.share is not None:
        at = x + half * max(min(row.share / 0.3, 1.0), -1.0)
        p.setPen(QPen(t.color(role), 1.6))
        p.drawLine(QLineF(at, middle - 7, at, middle + 5))
    words(p, t, row.learnt, wide * 0.67, y, font=fonts.text(13))
    words(p, t, f"from {row.cases}" if row.cases else "", wide - 12, y, "quiet", font=fonts.text(12), align="right")
