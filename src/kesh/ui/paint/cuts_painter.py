"""The cut list drawn: every wire stretched out to one scale with its bends, screens, clips and rods, and the soil as a bar."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen

from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.soil_batch import Batch
from kesh.base.units import Units
from kesh.science.stand.wire_path import WireWay
from kesh.ui.paint.grains import grain_colour
from kesh.ui.paint.marks import words
from kesh.ui.paint.tree_painter import draw_lines
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme, mixed

LEAST_FIGURE_PX = 19.0


def draw_way(
    p: QPainter,
    t: Theme,
    way: WireWay,
    x: float,
    y: float,
    px_mm: float,
    u: Units,
    role: str = "indigo",
    *,
    figures: bool = True,
) -> float:
    """One wire from end to end; twisted ends wavy, under the floor dashed, a tick at every bend; returns where it ends, px."""
    at, font = x, fonts.text(11)
    ends = QPainterPath()
    over: list[QLineF] = []
    under: list[QLineF] = []
    bends: list[QLineF] = []
    for piece in way.pieces:
        wide = piece.mm * px_mm
        if piece.kind == "end":
            ends.addPath(wave(at, y, wide))
        else:
            (under if piece.kind in ("under", "span") else over).append(QLineF(at, y, at + wide, y))
        if at > x:
            bends.append(QLineF(at, y - 4, at, y + 4))
        if figures and wide >= LEAST_FIGURE_PX * fonts.scaled(100) / 100 and piece.kind != "floor":
            words(p, t, u.figure(piece.mm), at + wide / 2, y - 5, "quiet", font=font, align="center")
        at += wide
    # a stroke of one kind is one call: this is painted in every frame of a drag
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t.color(role), 1.4))
    p.drawPath(ends)
    p.setPen(QPen(t.color(role), 1.8))
    draw_lines(p, over)
    dashed = QPen(t.color(role), 1.3)
    dashed.setDashPattern([4, 3])
    p.setPen(dashed)
    draw_lines(p, under)
    p.setPen(QPen(t.color("ink"), 1.2))
    draw_lines(p, bends)
    return at


def wave(x: float, y: float, wide: float) -> QPainterPath:
    """A wavy line as wide as given: an end that is twisted."""
    path = QPainterPath(QPointF(x, y))
    n = max(2, int(wide / 3.5))
    for k in range(1, n + 1):
        path.lineTo(x + wide * k / n, y + (2.2 if k % 2 else -2.2) * (k < n))
    return path


def cut_heads(cuts: CutList, u: Units) -> str:
    """One line on all the wire there is to cut."""
    told = cuts.totals_words()
    return f"{told}; wavy ends are twisted" if told else "no wire"


def draw_cut_list(
    p: QPainter, t: Theme, cuts: CutList, box: QRectF, u: Units, in_hand: str = "", *, hurry: bool = False
) -> None:
    """Wires in rows at the left, all at one scale; the right is left to screens, clips and rods.

    While something is pulled only lengths are written, the figures of the pieces come back when the hand rests.
    """
    split = box.left() + 0.6 * box.width()
    step = min(fonts.scaled(23), box.height() / max(len(cuts.ties), 1))
    font = fonts.text(13)
    longest = max((w.length_mm for w in cuts.ties), default=1.0)
    name_px, total_px = fonts.scaled(22), fonts.scaled(44)
    room = split - box.left() - name_px - total_px
    px_mm = room / longest
    for n, wire in enumerate(cuts.ties):
        y = box.top() + n * step + step * 0.62
        hand = bool(wire.id) and wire.id == in_hand
        words(p, t, wire.id, box.left(), y + 4, "moss" if hand else "ink", font=fonts.text(13, bold=True))
        end = draw_way(
            p, t, wire.way, box.left() + name_px, y, px_mm, u, "moss" if hand else "indigo", figures=not hurry
        )
        words(p, t, u.figure(wire.length_mm), end + 8, y + 4, font=fonts.text(13, bold=True))
    if not cuts.ties:
        told = {"none": "Nothing is tied: no wire to cut.", "stones": "Stones hold it: no wire to cut."}.get(
            cuts.plan.anchors if cuts.plan else "", "No wire fits this pot."
        )
        words(p, t, told, box.left(), box.top() + step, "quiet", font=font)


def split_box(box: QRectF) -> QRectF:
    """The part of the cut list's box that is left to screens, clips and rods."""
    left = box.left() + 0.6 * box.width() + fonts.scaled(14)
    return QRectF(left, box.top(), box.right() - left, box.height())


def draw_small_parts(p: QPainter, t: Theme, cuts: CutList, box: QRectF, u: Units) -> None:
    """Screens, clips and rods, each with its picture, count and size."""
    rows: list[tuple[str, str, str]] = []
    for mm, n in cuts.screen_sizes.items():
        more = (
            ""
            if cuts.sheet is None
            else f"; or one sheet {u.figure(cuts.sheet.length_mm)} × {u.figure(cuts.sheet.width_mm)}"
        )
        rows.append(
            (
                "screen",
                f"{n} screen{'' if n == 1 else 's'} {u.figure(mm)} × {u.figure(mm)}",
                f"{cuts.mesh_mm:g} mm mesh{more}",
            )
        )
    rows += [
        (
            "clip",
            f"{c.count} clip{'' if c.count == 1 else 's'}, {u.figure(c.way.cut_mm)} each",
            "1.5 mm wire: leg, loop, span, loop, leg",
        )
        for c in cuts.clips
    ]
    rows += (
        [
            (
                "rod",
                f"{len(cuts.rods)} rods {u.figure(max(r.length_mm for r in cuts.rods))}",
                f"bamboo, {cuts.rods[0].diameter_mm:.0f} mm thick",
            )
        ]
        if cuts.rods
        else []
    )
    if cuts.plan is not None and cuts.plan.stones:
        rows.append(
            (
                "stone",
                f"{len(cuts.plan.stones)} stones of {u.kg(cuts.plan.stones[0].mass_kg)}",
                "flat below, off at the next repotting",
            )
        )
    if cuts.ties:
        rows.append(("spare", f"1 spare wire {u.figure(cuts.spare_mm)}", "wire breaks when pulled too far"))
    step = min(fonts.scaled(34), box.height() / max(len(rows), 1))
    left = box.left() + fonts.scaled(42)
    for n, (kind, head, told) in enumerate(rows):
        y = box.top() + n * step + fonts.scaled(13)
        _picture(p, t, kind, QRectF(box.left(), y - fonts.scaled(10), fonts.scaled(32), fonts.scaled(20)))
        words(p, t, head, left, y, font=fonts.text(13, bold=True))
        if step >= fonts.scaled(30):
            font = fonts.text(12)
            words(
                p,
                t,
                QFontMetricsF(font).elidedText(told, Qt.TextElideMode.ElideRight, box.right() - left),
                left,
                y + fonts.scaled(14),
                "quiet",
                font=font,
            )


def _picture(p: QPainter, t: Theme, kind: str, box: QRectF) -> None:
    p.setBrush(Qt.BrushStyle.NoBrush)
    y = box.center().y()
    if kind == "screen":
        square = QRectF(box.center().x() - box.height() / 2, box.top(), box.height(), box.height())
        p.setPen(QPen(t.color("ink", 0.5), 0.6))
        draw_lines(
            p, [QLineF(x, square.top(), x, square.bottom()) for x in np.linspace(square.left(), square.right(), 6)]
        )
        draw_lines(
            p, [QLineF(square.left(), v, square.right(), v) for v in np.linspace(square.top(), square.bottom(), 6)]
        )
        p.setPen(QPen(t.color("ink"), 1.1))
        p.drawRect(square)
    elif kind == "clip":
        p.setPen(QPen(t.color("ink"), 1.4))
        r = box.height() * 0.24
        c = box.center()
        p.drawLine(QLineF(c.x() - 2.2 * r, y - 1.6 * r, c.x() - 2.2 * r, y))
        p.drawEllipse(QPointF(c.x() - 1.2 * r, y), r, r)
        p.drawLine(QLineF(c.x() - r, y, c.x() + r, y))
        p.drawEllipse(QPointF(c.x() + 1.2 * r, y), r, r)
        p.drawLine(QLineF(c.x() + 2.2 * r, y - 1.6 * r, c.x() + 2.2 * r, y))
    elif kind == "rod":
        p.setPen(QPen(t.color("ink"), 1.0))
        p.setBrush(mixed(t.color("ochre_fill"), t.color("sheet"), 0.4))
        p.drawRoundedRect(QRectF(box.left(), y - 3, box.width(), 6), 3, 3)
        p.drawLine(QLineF(box.left() + box.width() * 0.4, y - 3, box.left() + box.width() * 0.4, y + 3))
    elif kind == "stone":
        p.setPen(QPen(t.color("ink"), 1.1))
        p.setBrush(mixed(t.color("edge"), t.color("sheet"), 0.35))
        p.drawEllipse(box.adjusted(4, 2, -4, -2))
    else:
        p.setPen(QPen(t.color("indigo"), 1.6))
        p.drawLine(QLineF(box.left(), y, box.right(), y))


def draw_soil_bar(p: QPainter, t: Theme, batch: Batch, box: QRectF, u: Units) -> None:
    """The batch as a bar in its proportions, each component with its litres and scoops, what is short in the colour of its finding."""
    high = fonts.scaled(17)
    x, total = box.left(), max(batch.total_l, 1e-9)
    bold, plain = fonts.text(13, bold=True), fonts.text(12)
    taken = box.left()
    for line in batch.lines:
        wide = box.width() * line.litres / total
        bar = QRectF(x, box.top(), wide, high)
        color = grain_colour(line.key)
        p.setPen(QPen(t.color("ink"), 1.0))
        p.setBrush(mixed(color, t.color("sheet"), 0.25))
        p.drawRect(bar)
        p.setPen(QPen(t.color("ink", 0.55), 0.8))
        # a stroke for every scoop
        draw_lines(
            p,
            [
                QLineF(
                    x + box.width() * k * line.scoop_l / total,
                    bar.bottom() - 5,
                    x + box.width() * k * line.scoop_l / total,
                    bar.bottom(),
                )
                for k in range(1, min(int(line.scoops), 60) + 1)
            ],
        )
        short = line.status != "fits"
        head = f"{line.name.split(',')[0].split(' (')[0]} {u.litres(line.litres)}"
        told = f"{line.scoops:.1f} scoops, {line.grains}" + (f", {u.litres(line.missing_l)} short" if short else "")
        text_wide = max(QFontMetricsF(bold).horizontalAdvance(head), QFontMetricsF(plain).horizontalAdvance(told))
        left = max(min(x, box.right() - text_wide), taken)
        used = words(
            p, t, head, left, bar.bottom() + fonts.scaled(16), STATUS_ROLE[line.status] if short else "ink", font=bold
        )
        used = max(
            used,
            words(
                p,
                t,
                told,
                left,
                bar.bottom() + fonts.scaled(31),
                STATUS_ROLE[line.status] if short else "quiet",
                font=plain,
            ),
        )
        taken = left + used + 14
        x += wide
