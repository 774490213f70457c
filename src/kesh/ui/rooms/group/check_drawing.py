"""The layout check as it is drawn: eight rows with their bands, the worst marked, and the move that mends most; a pair has its own rows."""

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen

from kesh.advice.group.plan import PARTS_WORDS, GroupPlan
from kesh.advice.group.rows import PartRow, pair_rows, part_rows
from kesh.base.units import Units
from kesh.science.group.mend import LayoutCheck
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

GOOD, POOR, STANDS_OUT = 0.8, 0.5, 0.98


def check_height_px() -> float:
    """How much room the check takes."""
    return fonts.scaled(26 + 8 * 30 + 54)


def draw_check(p: QPainter, plan: GroupPlan, t: Theme, box: QRectF, u: Units) -> None:
    """All of it in a column."""
    check, two = plan.check, pair_rows(plan, u)
    words(p, t, "Pair" if two else "Layout check", box.left(), box.top() + fonts.scaled(14), font=fonts.section())
    if check is None:
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(box.left(), box.top() + fonts.scaled(20), box.right(), box.top() + fonts.scaled(20)))
        for n, row in enumerate(two):
            _part(
                p,
                t,
                row,
                QRectF(box.left(), box.top() + fonts.scaled(24 + 30 * n), box.width(), fonts.scaled(30)),
                worst=row.mark < POOR,
                figure=False,
            )
        if not two:
            p.setFont(fonts.text(13))
            p.setPen(t.color("quiet"))
            p.drawText(
                box.adjusted(0, fonts.scaled(26), 0, 0),
                int(Qt.TextFlag.TextWordWrap),
                "wants at least three trees in the tray; two have a check of their own",
            )
        return
    words(
        p,
        t,
        f"{check.score:.0f} of 100",
        box.right(),
        box.top() + fonts.scaled(14),
        "quiet",
        font=fonts.text(13),
        align="right",
    )
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(box.left(), box.top() + fonts.scaled(20), box.right(), box.top() + fonts.scaled(20)))
    y = box.top() + fonts.scaled(24)
    for row in part_rows(plan, check, u):
        _part(
            p,
            t,
            row,
            QRectF(box.left(), y, box.width(), fonts.scaled(30)),
            worst=row.key == check.worst and row.mark < STANDS_OUT,
        )
        y += fonts.scaled(30)
    _mend(p, plan, t, check, QRectF(box.left(), y + 2, box.width(), fonts.scaled(50)), u)


def _part(p: QPainter, t: Theme, row: PartRow, box: QRectF, *, worst: bool, figure: bool = True) -> None:
    if worst:
        p.fillRect(box.adjusted(-4, 0, 4, -1), t.color("ochre_tint"))
    base = box.top() + fonts.scaled(13)
    role = "ochre" if worst else "ink"
    wide = words(p, t, row.label, box.left(), base, role, font=fonts.text(13, bold=worst))
    mark = f"{row.mark:.2f}"
    if figure:
        words(p, t, mark, box.right(), base, role, font=fonts.text(13, bold=True), align="right")
    room = box.width() - wide - 46
    font = fonts.text(12)
    told = QFontMetricsF(font).elidedText(row.words, Qt.TextElideMode.ElideRight, room)
    words(p, t, told, box.left() + wide + 6, base, role if worst else "quiet", font=font)
    y = box.bottom() - fonts.scaled(8)
    p.setPen(QPen(t.color("edge"), 1))
    p.drawLine(QLineF(box.left(), y, box.right(), y))

    def at(v: float) -> float:
        return box.left() + box.width() * (v - row.low) / (row.high - row.low)

    p.setPen(QPen(t.color("moss"), 0.8))
    p.setBrush(t.color("moss_fill"))
    for low, high in row.bands:
        p.drawRect(QRectF(at(max(low, row.low)), y - 3, max(at(min(high, row.high)) - at(max(low, row.low)), 2), 6))
    x = min(max(at(row.value), box.left() + 3), box.right() - 3)
    color = t.color("ink" if row.mark >= GOOD else "ochre" if row.mark >= POOR else "oxide")
    tip = QPainterPath()
    tip.moveTo(x - 4, y - 7)
    tip.lineTo(x + 4, y - 7)
    tip.lineTo(x, y)
    tip.closeSubpath()
    p.fillPath(tip, color)
    p.setPen(QPen(color, 1.4))
    p.drawLine(QLineF(x, y - 4, x, y + 5))


def _mend(p: QPainter, plan: GroupPlan, t: Theme, check: LayoutCheck, box: QRectF, u: Units) -> None:
    """The worst part by name and the one move that mends most; while it is being looked for it says so."""
    worst = PARTS_WORDS[check.worst].lower()
    base = box.top() + fonts.scaled(14)
    if check.parts[check.worst] >= STANDS_OUT:
        words(p, t, "Nothing stands out; look at it.", box.left(), base, "quiet", font=fonts.text(13))
        return
    words(p, t, f"Weakest: {worst}. This one move mends most:", box.left(), base, "quiet", font=fonts.text(12.5))
    told = mend_words(plan, u)
    words(p, t, told, box.left(), base + fonts.scaled(16), "moss", font=fonts.text(13, bold=True))


def mend_words(plan: GroupPlan, u: Units) -> str:
    """Move 7 back by 14 mm and right by 6: 82 to 90; or that it is being looked for."""
    if "mend" not in plan.__dict__:
        return "looking …"
    move = plan.mend
    if move is None or plan.check is None:
        return "no single move within 40 mm gains"
    parts = [
        f"{word} {u.mm(abs(v))}"
        for v, word in (
            (move.dy_mm, "back" if move.dy_mm > 0 else "forward"),
            (move.dx_mm, "right" if move.dx_mm > 0 else "left"),
        )
        if abs(v) >= 0.5
    ]
    return f"{move.id} {' and '.join(parts)}: {plan.check.score:.0f} to {move.score:.0f}"
