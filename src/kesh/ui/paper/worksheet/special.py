"""A page for what is special: the front with the pot cut open, from above, figures, cuts, stages; and a page for the plan of a group."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF

from kesh.advice.group.plan import GroupPlan, is_group
from kesh.advice.group.rows import title_words
from kesh.advice.kinds.kinds import kind_rows
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.desk.group import lean_words
from kesh.figure.overlay import Overlay
from kesh.model import Planting
from kesh.science.roots.heap import DRY_SLOPE_DEG
from kesh.ui.paint.group_plan_painter import draw_plan
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.special_painter import Ink, bounds_mm, draw_above, draw_cuts, draw_open
from kesh.ui.paper.printing import UNIT_MM, scale_for
from kesh.ui.paper.worksheet.sheet import BODY, EDGE, Sheet
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT, STATUS_ROLE


def special_page(sheet: Sheet, planting: Planting) -> bool:
    """The page of a special planting; whether there is one."""
    plan = sheet.plan.special
    if plan is None:
        return False
    s = Setting(sheet.plan.a, planting, sheet.plan.u, sheet.today)
    row = kind_rows()[plan.kind]
    y = sheet.rule(row.words, EDGE, 78, sheet.room, "starting points; the tree decides")
    y += sheet.text(f"{plan.title}. {row.changes}", EDGE, y, sheet.room, BODY, "quiet") + 14
    tall = (sheet.high - EDGE - y) * 0.38
    split = sheet.room * 0.60
    _front(sheet, s, plan, QRectF(EDGE, y, split - 16, tall))
    _beside(sheet, s, plan, QRectF(EDGE + split + 8, y, sheet.room - split - 8, tall))
    y += tall + 34
    if plan.cuts:
        y = sheet.rule("Cuts of its own", EDGE, y, sheet.room, "beside the wires and screens of the cut list")
        high = 34.0 * len(plan.cuts)
        draw_cuts(sheet.p, LIGHT, plan, QRectF(EDGE, y - 16, sheet.room, high), sheet.plan.u)
        y += high
        for cut in plan.cuts:
            if cut.note:
                y += sheet.text(f"{cut.name}: {cut.note}.", EDGE, y, sheet.room, 14, "quiet") + 4
        y += 20
    if plan.stages:
        y = _stages(sheet, s, plan, y)
    _findings(sheet, plan, y)
    return True


def _front(sheet: Sheet, s: Setting, plan: SpecialPlan, box: QRectF) -> None:
    left, low, right, top = bounds_mm(s, plan.front)
    n = scale_for(right - left, top - low, box.width() - 120, box.height() - 60)
    k = 1 / n / UNIT_MM
    x = box.left() + 60 - left * k + (box.width() - 120 - (right - left) * k) / 2
    plane = Plane(QPointF(x, box.bottom() - 30 + low * k), k)
    draw_open(sheet.p, LIGHT, s, plan.front, Ink(), plane, right_px=box.right())
    words(
        sheet.p,
        LIGHT,
        f"From the front, pot cut, 1 : {n:g}",
        box.left(),
        box.top() + 4,
        "quiet",
        font=fonts.book(16, italic=True),
    )


def _beside(sheet: Sheet, s: Setting, plan: SpecialPlan, box: QRectF) -> None:
    pot, p = s.a.pot, sheet.p
    n = scale_for(pot.length_mm, pot.width_mm, box.width() - 30, box.height() * 0.42)
    k = 1 / n / UNIT_MM
    plane = Plane(QPointF(box.center().x(), box.top() + 22 + pot.width_mm / 2 * k), k)
    words(p, LIGHT, f"From above, 1 : {n:g}", box.left(), box.top() + 4, "quiet", font=fonts.book(16, italic=True))
    draw_above(p, LIGHT, s, plan.above, plane)
    y = box.top() + 60 + pot.width_mm * k
    for figure in plan.figures:
        wide = words(p, LIGHT, figure.label, box.left(), y, "quiet", font=fonts.text(15))
        told = fonts.elided(fonts.text(15, bold=True), figure.text, box.width() - wide - 8)
        words(
            p,
            LIGHT,
            told,
            box.right(),
            y,
            STATUS_ROLE.get(figure.status, "ink") if figure.status not in ("", "fits") else "ink",
            font=fonts.text(15, bold=True),
            align="right",
        )
        y += 24


def _stages(sheet: Sheet, s: Setting, plan: SpecialPlan, y: float) -> float:
    y = sheet.rule("Stages", EDGE, y, sheet.room, "the sign decides; the dates are only expected")
    stages = plan.stages[:5]
    wide = sheet.room / max(len(stages), 3)
    whole = Overlay(tuple(shape for one in stages for shape in one.front.shapes))
    left, low, right, high = bounds_mm(s, whole)
    tall = min(150.0, max(sheet.foot - y - 150, 60.0))
    k = min(tall / max(high - low, 1), (wide - 14) / max(right - left, 1))
    for n, stage in enumerate(stages):
        x0 = EDGE + n * wide
        middle = x0 + wide / 2 - (left + right) / 2 * k
        draw_open(sheet.p, LIGHT, s, stage.front, Ink(), Plane(QPointF(middle, y + tall + low * k), k), marks=False)
        words(
            sheet.p,
            LIGHT,
            fonts.elided(fonts.text(15, bold=True), f"{n + 1}  {stage.title}", wide - 6),
            x0,
            y + tall + 22,
            font=fonts.text(15, bold=True),
        )
        sheet.text(stage.sign, x0, y + tall + 40, wide - 10, 13, "quiet")
    return y + tall + 84


def _findings(sheet: Sheet, plan: SpecialPlan, y: float) -> None:
    for finding in plan.findings:
        told = f"{finding.text} {finding.remedy}".strip()
        tall = sheet.tall(told, sheet.room - 30, 15)
        if y + tall > sheet.foot:
            return
        status_mark(sheet.p, LIGHT, finding.status, EDGE + 8, y - 5, 13)
        y += sheet.text(told, EDGE + 28, y, sheet.room - 30, 15) + 7


def group_page(sheet: Sheet) -> bool:
    """The plan of a group to scale, and where each tree stands from the tray's rims; whether there is one."""
    a, p, u = sheet.plan.a, sheet.p, sheet.plan.u
    tree, pot = a.case.tree, a.pot
    if not is_group(tree) or not any(g.placed for g in tree.group):
        return False
    plan = GroupPlan(tree, pot, a.case.headspace_mm)
    y = sheet.rule("Where each tree stands", EDGE, 78, sheet.room, title_words(plan, u))
    n = scale_for(pot.length_mm, pot.width_mm, sheet.room - 20, (sheet.high - 2 * EDGE) * 0.42)
    k = 1 / n / UNIT_MM
    plane = Plane(QPointF(EDGE + sheet.room / 2, y + 10 + pot.width_mm / 2 * k), k)
    draw_plan(p, plan, LIGHT, plane)
    y += pot.width_mm * k + 52
    words(
        p,
        LIGHT,
        f"{pot.name} from above, 1 : {n:g}; the front is below",
        EDGE,
        y,
        "quiet",
        font=fonts.book(16, italic=True),
    )
    y = sheet.rule("Trees", EDGE, y + 40, sheet.room, f"from the left rim, from the front rim, {u.length}")
    columns = (EDGE + 28, EDGE + 190, EDGE + 300, EDGE + 330, EDGE + 560, EDGE + 690, sheet.wide - EDGE)
    for x, told, align in zip(
        columns,
        ("", "thick", "height", "lean", "from left", "from front", "soil, l"),
        ("left", "right", "right", "left", "right", "right", "right"),
        strict=True,
    ):
        words(p, LIGHT, told, x, y, "quiet", font=fonts.text(14), align=align)
    y += 26
    for row, room, seat in zip(plan.rows, plan.room_l, plan.seat_mm, strict=True):
        if y > sheet.foot:
            sheet.turn()
            y = sheet.rule("Trees", EDGE, 78, sheet.room, "went on")
        sheet.box(EDGE, y)
        cells = (
            row.id, u.figure(row.diameter_mm or 0.0), "?" if row.height_mm is None else u.figure(row.height_mm), lean_words(row),
            u.figure(pot.length_mm / 2 + (row.x_mm or 0.0)), u.figure(pot.width_mm / 2 + (row.y_mm or 0.0)), f"{room:.2f}",
        )  # fmt: skip
        for x, told, align in zip(
            columns, cells, ("left", "right", "right", "left", "right", "right", "right"), strict=True
        ):
            words(p, LIGHT, told, x, y, font=fonts.text(BODY, bold=told == row.id), align=align)
        if seat > 0.5:
            words(p, LIGHT, f"on {u.mm(float(seat))} of hill", columns[3] + 90, y, "quiet", font=fonts.text(14))
        y += 26
    y += 10
    told = f"Soil {u.litres(float(np.sum(plan.room_l)))}, {u.litres(plan.hill_l)} of it hill."
    if plan.mounds:
        told += f" Its steepest side rises by {plan.slope_deg:.0f}°: dry grains stand to 35°, wetted fines to 50°."
        if plan.slope_deg > DRY_SLOPE_DEG:
            told += " Wet the mix for the mound."
    sheet.text(told, EDGE, y, sheet.room, BODY)
    return True
