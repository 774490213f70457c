"""Lanes of the life: repottings with what came off, other works, what was seen, photographs, pots that were tried and refused."""

from collections.abc import Callable
from datetime import date

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.advice.season.life import Life
from kesh.base.units import Units
from kesh.model import Event
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

# the first lane carries bars and is so much taller than the others
FIRST_TALLER = 1.8
LANES = ("Roots taken", "Cut, wired", "Seen, pictures", "Tried, refused")
LABELS_PX = 92


def labels_px() -> float:
    """Room for the names at the left, by the text size."""
    return fonts.scaled(LABELS_PX)


OF_LANE = {"repotted": 0, "root_work": 0, "pruned": 1, "wired": 1, "defoliated": 1, "moved": 1, "fed": 1}


def lane_of(event: Event) -> int:
    """The lane of an entry."""
    return OF_LANE.get(event.kind, 2)


def draw_lanes(
    p: QPainter, t: Theme, life: Life, x_of: Callable[[date], float], box: QRectF, in_hand: str, u: Units
) -> None:  # fmt: skip
    """All lanes over the box's width."""
    plain = box.height() / (len(LANES) - 1 + FIRST_TALLER)
    tops = [box.top()] + [box.top() + plain * (FIRST_TALLER + n) for n in range(len(LANES) - 1)]
    highs = [plain * FIRST_TALLER] + [plain] * (len(LANES) - 1)
    for name, top, high in zip(LANES, tops, highs, strict=True):
        small = fonts.width(fonts.text(12), name) > labels_px() - 14
        words(p, t, name, 12, top + high - 6, "quiet", font=fonts.text(11 if small else 12))
        p.setPen(QPen(t.color("rule", 0.7), 1))
        p.drawLine(QLineF(8, top + high - 0.5, box.right() - 18, top + high - 0.5))
    limit = life.limit_share
    if limit is not None:
        y = tops[0] + highs[0] - 2 - (highs[0] - 3) * min(limit, 1.0)
        pen = QPen(t.color("oxide"), 1)
        pen.setDashPattern([4, 3])
        p.setPen(pen)
        p.drawLine(QLineF(labels_px(), y, box.right() - 18, y))
        words(p, t, f"limit {limit:.0%}", box.right() - 22, y - 3, "oxide", font=fonts.text(11), align="right")
    taken: dict[int, float] = {}
    for event in life.events:
        lane = lane_of(event)
        _entry(p, t, event, x_of(event.date), tops[lane], highs[lane], taken, lane, hand=event.id == in_hand)
    for photo in life.book.c.photos_of(life.tree.id):
        if photo.taken is not None:
            _corners(p, t, x_of(photo.taken), tops[2] + highs[2] / 2)
    _refused(p, t, life, x_of, tops[3], highs[3], box.right() - 18)


def _entry(
    p: QPainter,
    t: Theme,
    e: Event,
    x: float,
    top: float,
    high: float,
    taken: dict[int, float],
    lane: int,
    *,
    hand: bool,
) -> None:
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    middle, figures, told, role = top + high / 2, dict(e.figures), "", "ink"
    if lane == 0:
        share = figures.get("removed_feeder_share", e.strain)
        tall = (high - 3) * min(max(share, 0.08), 1.0) if share is not None else high * 0.4
        bar = QRectF(x - 4, top + high - 2 - tall, 8, tall)
        path = QPainterPath()
        path.addRect(bar)
        p.fillPath(path, t.color("oxide_tint"))
        p.save()
        p.setClipPath(path)
        hatch(p, path, t.color("oxide"), 1.0, gap_px=4)
        p.restore()
        pen = QPen(t.color("oxide"), 1.1)
        if share is None:
            pen.setDashPattern([2, 2])
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(bar)
        told, role = (f"{share:.0%}" if share is not None else "?"), "oxide"
    elif e.kind == "wired":
        p.setPen(QPen(t.color("ochre"), 1.5))
        for k in range(4):
            p.drawLine(QLineF(x - 8 + 4 * k, middle + 4, x - 4 + 4 * k, middle - 4))
    elif e.kind in ("pruned", "defoliated"):
        p.setPen(QPen(t.color("moss"), 1.5))
        p.drawLine(QLineF(x - 5, middle - 4, x + 5, middle + 4))
        p.drawLine(QLineF(x - 5, middle + 4, x + 5, middle - 4))
    elif e.kind == "ailing":
        p.setPen(QPen(t.color("oxide"), 1.5))
        p.drawEllipse(QPointF(x, middle), 4.5, 4.5)
        p.drawLine(QLineF(x - 3, middle + 3, x + 3, middle - 3))
    else:
        p.setPen(QPen(t.color("ink"), 1.2))
        p.setBrush(t.color("sheet"))
        p.drawEllipse(QPointF(x, middle), 3.5, 3.5)
    if hand:
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.color("indigo"), 2))
        p.drawRect(QRectF(x - 10, top + 1, 20, high - 3))
    if told:
        wide, font = 0.0, fonts.text(12, bold=True)
        wide = fonts.width(font, told)
        left = x + 7
        if left > taken.get(lane, -1e9):
            words(p, t, told, left, top + high - 6 if lane == 0 else middle + 4, role, font=font)
            taken[lane] = left + wide + 4
    p.restore()


def _corners(p: QPainter, t: Theme, x: float, y: float) -> None:
    """Four corners of a picture."""
    p.setPen(QPen(t.color("ink"), 1.3))
    for sx in (-1, 1):
        for sy in (-1, 1):
            p.drawLine(QLineF(x + 5 * sx, y + 5 * sy, x + 2 * sx, y + 5 * sy))
            p.drawLine(QLineF(x + 5 * sx, y + 5 * sy, x + 5 * sx, y + 2 * sy))


def _refused(
    p: QPainter, t: Theme, life: Life, x_of: Callable[[date], float], top: float, high: float, right: float
) -> None:
    """Pots that were tried under the tree and refused, with the words of it."""
    rows = [r for r in life.book.c.rejections if r.tree == life.tree.id and r.date is not None]
    end = -1e9
    for r in sorted(rows, key=lambda r: r.date or date.min):
        pot = life.book.c.pots.get(r.pot)
        assert r.date is not None
        told = f"{pot.name if pot is not None else r.pot}: {r.reason.rstrip('.')}"
        wide = fonts.width(fonts.text(12), told)
        x = x_of(r.date)
        left = x + 14 if x + 14 + wide < right else x - 14 - wide
        p.setPen(QPen(t.color("edge"), 1.2))
        p.setBrush(t.color("oxide_tint"))
        p.drawRect(QRectF(x - 8, top + high / 2 - 3, 16, 7))
        p.setPen(QPen(t.color("oxide"), 1.5))
        p.drawLine(QLineF(x - 6, top + high / 2 + 7, x + 6, top + high / 2 - 6))
        if left > end:
            words(p, t, told, left, top + high - 6, font=fonts.text(12))
            end = max(left + wide, x) + 16
