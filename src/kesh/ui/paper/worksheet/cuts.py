"""Page two: every wire with its bends, screens at their own size, soil by component, what must be at hand."""

import numpy as np
from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QPen

from kesh.ui.paint.cuts_painter import draw_way
from kesh.ui.paint.marks import words
from kesh.ui.paper.printing import UNIT_MM
from kesh.ui.paper.worksheet.sheet import BODY, EDGE, Sheet
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT, STATUS_ROLE

LAID_SCALES = (1, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 15, 20)


def cuts_page(sheet: Sheet) -> None:
    plan, u, p = sheet.plan, sheet.plan.u, sheet.p
    cuts = plan.cuts
    y = sheet.rule("Cut list", EDGE, 78, sheet.room, "cut before the tree is lifted")
    if cuts is None:
        y += sheet.text("Screens and wires follow once the root mass is measured: step 1.", EDGE, y, sheet.room) + 12
    else:
        longest = max((w.length_mm for w in cuts.ties), default=1.0)
        n = next((s for s in LAID_SCALES if longest / s / UNIT_MM <= sheet.room - 150), LAID_SCALES[-1])
        k = 1 / n / UNIT_MM
        for w in cuts.ties:
            sheet.box(EDGE, y + 4)
            words(p, LIGHT, w.id, EDGE + 28, y + 4, font=fonts.text(BODY + 2, bold=True))
            end = draw_way(p, LIGHT, w.way, EDGE + 56, y, k, u)
            words(p, LIGHT, u.mm(w.length_mm), end + 12, y + 5, font=fonts.text(BODY + 2, bold=True))
            y += 32
        if cuts.ties:
            scale = "laid out 1 : 1" if n == 1 else f"laid out 1 : {n:g}"
            y += (
                sheet.text(
                    f"Wires {scale}; wavy ends are twisted, dashed runs under the floor. In all {cuts.totals_words()}; one spare of {u.mm(cuts.spare_mm)}.",
                    EDGE,
                    y,
                    sheet.room,
                    14,
                    "quiet",
                )
                + 12
            )
        y = _screens(sheet, y)
    y = _soil(sheet, y + 34)
    _ready(sheet, y + 34)


def _screens(sheet: Sheet, y: float) -> float:
    """Screens at their own size where they fit, clips and rods beside them."""
    u, p, cuts = sheet.plan.u, sheet.p, sheet.plan.cuts
    assert cuts is not None
    x, low = EDGE, y
    for mm, count in cuts.screen_sizes.items():
        fits = mm / UNIT_MM <= 300
        side = (mm if fits else mm / 2) / UNIT_MM
        sheet.box(x, y + 12)
        words(
            p, LIGHT, f"{count} × screen {u.figure(mm)} × {u.mm(mm)}", x + 28, y + 12, font=fonts.text(BODY, bold=True)
        )
        square = QRectF(x, y + 24, side, side)
        p.setPen(QPen(LIGHT.color("ink", 0.4), 0.5))
        step = max(cuts.mesh_mm / UNIT_MM / (1 if fits else 2), 4.0) * 2
        for v in np.arange(step, side, step).tolist():
            p.drawLine(QLineF(square.left() + v, square.top(), square.left() + v, square.bottom()))
            p.drawLine(QLineF(square.left(), square.top() + v, square.right(), square.top() + v))
        p.setPen(QPen(LIGHT.color("ink"), 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(square)
        words(
            p,
            LIGHT,
            "1 : 1, cut along the line" if fits else "1 : 2",
            x,
            square.bottom() + 16,
            "quiet",
            font=fonts.text(14),
        )
        low = max(low, square.bottom() + 26)
        x += max(side, 230) + 24
    right = x
    at = y + 12
    lines = [
        f"Mesh {cuts.mesh_mm:g} mm"
        + (
            ""
            if cuts.sheet is None
            else f"; or one sheet {u.figure(cuts.sheet.length_mm)} × {u.mm(cuts.sheet.width_mm)} over all"
        )
    ]
    lines += [f"{c.count} × clip of 1.5 mm wire, {u.mm(c.way.cut_mm)}" for c in cuts.clips]
    lines += [f"1 × bamboo rod {r.diameter_mm:.0f} mm thick, {u.mm(r.length_mm)}" for r in cuts.rods]
    if cuts.plan is not None and cuts.plan.stones:
        lines.append(f"{len(cuts.plan.stones)} stones of {u.kg(cuts.plan.stones[0].mass_kg)}")
    if cuts.planned_drains or cuts.planned_ties:
        lines.append("Holes laid out by rule: drill them first.")
    for line in lines:
        sheet.box(right, at)
        at += sheet.text(line, right + 28, at, sheet.wide - EDGE - right - 28) + 10
    for c in cuts.clips[:1]:
        k = 1 / 2 / UNIT_MM if c.way.cut_mm / 2 / UNIT_MM < sheet.wide - EDGE - right - 40 else 1 / 4 / UNIT_MM
        end = draw_way(p, LIGHT, c.way, right, at + 14, k, u, "ink")
        words(p, LIGHT, f"clip 1 : {1 / k / UNIT_MM:g}", end + 8, at + 18, "quiet", font=fonts.text(13))
        at += 34
    return max(low, at)


def _soil(sheet: Sheet, y: float) -> float:
    u, p, batch = sheet.plan.u, sheet.p, sheet.plan.batch
    if batch is None:
        y = sheet.rule("Soil", EDGE, y, sheet.room)
        return y + sheet.text("No mix is chosen: step 5.", EDGE, y, sheet.room)
    y = sheet.rule(
        "Soil", EDGE, y, sheet.room, f"{u.litres(batch.total_l)} loose; a scoop is {u.litres(batch.scoop_l)}"
    )
    cells = (EDGE + 28, EDGE + sheet.room * 0.56, EDGE + sheet.room * 0.72, EDGE + sheet.room * 0.86, sheet.wide - EDGE)
    for line in batch.lines:
        sheet.box(EDGE, y)
        words(p, LIGHT, f"{line.name}, {line.grains}", cells[0], y, font=fonts.text(BODY))
        words(p, LIGHT, f"{line.scoops:.1f} scoops", cells[2], y, font=fonts.text(BODY, bold=True), align="right")
        words(p, LIGHT, u.litres(line.litres), cells[3], y, font=fonts.text(BODY), align="right")
        told = "" if line.have_l is None else f"{u.litres(line.missing_l)} short" if line.status != "fits" else "there"
        words(
            p,
            LIGHT,
            told,
            cells[4],
            y,
            STATUS_ROLE[line.status] if line.status != "fits" else "quiet",
            font=fonts.text(BODY),
            align="right",
        )
        y += 26
    places = ", ".join(f"{u.litres(v)} {k}" for k, v in batch.places_l.items())
    told = f"In the pot: {places}. {batch.settling.value:.0%} added for sinking ({batch.settling.words()}); keep {u.litres(batch.second_l)} back for the second helping."
    return y + sheet.text(told, EDGE, y, sheet.room, 14, "quiet")


def _ready(sheet: Sheet, y: float) -> None:
    rest = [r for r in sheet.plan.ready if r.need is None]
    if not rest or y > sheet.foot - 60:
        return
    y = sheet.rule("At hand", EDGE, y, sheet.room, "before the roots are bare")
    column = sheet.room / 3
    for n, r in enumerate(rest):
        x, at = EDGE + (n % 3) * column, y + (n // 3) * 28
        if at > sheet.foot:
            return
        sheet.box(x, at)
        words(sheet.p, LIGHT, r.words, x + 28, at, font=fonts.text(BODY))
