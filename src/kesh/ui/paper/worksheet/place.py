"""Page one: from above and from the front to scale, the figures that decide, stops and cautions."""

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPen

from kesh.advice.planting.rehearsal import stops
from kesh.advice.roots.this_year import stands_now_mm
from kesh.desk.lineup import size_words
from kesh.desk.planting import title_words
from kesh.model import Planting
from kesh.ui.paint.layers import plainly
from kesh.ui.paint.marks import dimension, status_mark, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.planting_plan_painter import draw_flow, draw_ground, draw_holes, draw_mass, draw_sizes, draw_trunk
from kesh.ui.paint.rose_painter import draw_rose
from kesh.ui.paint.wires_painter import draw_wires
from kesh.ui.paper.printing import UNIT_MM, draw_composition, scale_for, stand_of
from kesh.ui.paper.worksheet.sheet import BODY, EDGE, Sheet
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT


def planting_of(sheet: Sheet) -> Planting:
    """The planting that is printed."""
    a = sheet.plan.a
    found = a.case.planting
    return (
        found
        if found is not None
        else Planting(id="sheet", tree=a.case.tree.id, pot=a.pot.id, offset_x_mm=a.seat.x_mm, offset_y_mm=a.seat.y_mm)
    )


def place_page(sheet: Sheet) -> None:
    a, p = sheet.plan.a, sheet.p
    planting = planting_of(sheet)
    words(p, LIGHT, f"{a.case.tree.name} into {a.pot.name}", EDGE, 78, font=fonts.book(36))
    species = a.case.species.common_name if a.case.species else "species not named"
    told = f"{species}. {title_words(sheet.plan, planting)}. {a.pot.name} is {size_words(a.pot, sheet.plan.u)} {sheet.plan.u.length} outside."
    y = 104 + sheet.text(told, EDGE, 108, sheet.room, BODY, "quiet")
    p.setPen(QPen(LIGHT.color("ink"), 1.4))
    p.drawLine(QLineF(EDGE, y, sheet.wide - EDGE, y))
    tall = (sheet.high - y - EDGE) * 0.46
    split = sheet.room * 0.6
    _from_above(sheet, QRectF(EDGE, y + 8, split - 14, tall), planting)
    _from_front(sheet, QRectF(EDGE + split + 10, y + 8, sheet.room - split - 10, tall))
    y += tall + 50
    y = _figures(sheet, y)
    _cautions(sheet, y)


def _from_above(sheet: Sheet, box: QRectF, planting: Planting) -> None:
    a, p = sheet.plan.a, sheet.p
    n = scale_for(a.pot.length_mm, a.pot.width_mm, box.width() - 76, box.height() - 84)
    k = 1 / n / UNIT_MM
    plane = Plane(QPointF(box.center().x() + 4, box.center().y() - 4), k)
    draw_ground(p, sheet.plan, LIGHT, plane, plainly)
    base = a.figures.root_base
    draw_mass(p, sheet.plan, LIGHT, plane, base)
    draw_holes(p, sheet.plan, LIGHT, plane, screens=True)
    draw_trunk(p, sheet.plan, LIGHT, plane, (planting.offset_x_mm, planting.offset_y_mm), held=False)
    draw_wires(p, sheet.plan, LIGHT, plane, base, "")
    draw_sizes(p, sheet.plan, LIGHT, plane, planting)
    draw_flow(p, sheet.plan, LIGHT, plane)
    words(
        p,
        LIGHT,
        f"From above, front at the foot, scale 1 : {n:g}",
        box.left(),
        box.bottom(),
        "quiet",
        font=fonts.book(15, italic=True),
    )


def _from_front(sheet: Sheet, box: QRectF) -> None:
    a, p, u = sheet.plan.a, sheet.p, sheet.plan.u
    stand = stand_of(a)
    left, right = stand.reach()
    low = min(0.0, stand.root_top_mm - (a.case.tree.measure.drop_mm or 0.0))
    n = scale_for(right - left, stand.top_mm - low, box.width() - 40, box.height() - 80)
    k = 1 / n / UNIT_MM
    foot = QPointF(box.center().x() - (left + right) / 2 * k, box.bottom() - 52 + low * k)
    draw_composition(p, LIGHT, a, foot, k)
    p.setPen(QPen(LIGHT.color("ink"), 1.5))
    p.drawLine(QLineF(box.left(), foot.y(), box.right(), foot.y()))
    half = a.pot.length_mm / 2 * k
    y = foot.y() + max(0.0, -low) * k + 16
    x = foot.x() + stand.trunk_x_mm * k
    dimension(p, LIGHT, QPointF(foot.x() - half, y), QPointF(x, y), u.figure(a.pot.length_mm / 2 + stand.trunk_x_mm))
    dimension(p, LIGHT, QPointF(x, y), QPointF(foot.x() + half, y), u.figure(a.pot.length_mm / 2 - stand.trunk_x_mm))
    words(
        p,
        LIGHT,
        f"Front, scale 1 : {n:g}; figures in {u.length}",
        box.left(),
        box.bottom(),
        "quiet",
        font=fonts.book(15, italic=True),
    )


def _figures(sheet: Sheet, y: float) -> float:
    """What decides, in two columns, and the rose of what holds."""
    a, u, plan = sheet.plan.a, sheet.plan.u, sheet.plan
    held, batch, fit = plan.ties, plan.batch, a.figures.roots
    stands = stands_now_mm(a.figures)
    rows = [("Trunk from the left rim", u.mm(a.pot.length_mm / 2 + a.seat.x_mm)), ("Trunk from the front rim", u.mm(a.pot.width_mm / 2 + a.seat.y_mm)),
            ("Roots over the rim" if stands >= -0.05 else "Roots under the rim", u.mm(abs(stands))), ("Soil below the rim", u.mm(a.case.headspace_mm)), ("Mound", u.mm(a.case.mound_mm))]  # fmt: skip
    year = plan.this_year
    if fit is not None and year is not None:
        rows += [
            ("Off the bottom", u.mm(year.bottom_mm)),
            ("Root mass stays", u.mm((a.case.roots.depth_mm if a.case.roots else 0.0) - year.bottom_mm)),
            (
                "Feeders taken",
                f"{plan.feeders_share:.0%}" + (f", first of {year.repottings}" if year.repottings > 1 else ""),
            ),
        ]
    if batch is not None:
        rows.append(("Soil, loose, in all", u.litres(batch.total_l)))
    if held is not None and held.hold is not None:
        rows.append(("Holds at the apex", f"{held.hold.weakest_n:.0f} N"))
    if a.figures.stand is not None:
        rows.append(("Wet, planted", u.kg(float(a.figures.stand.mass_wet_kg[0]))))
    start = sheet.rule("The figures", EDGE, y, sheet.room, "starting points; your tree decides")
    rose = 150.0 if held is not None and held.hold is not None else 0.0
    column = (sheet.room - rose - 40) / 2
    half = -(-len(rows) // 2)
    for n, (name, value) in enumerate(rows):
        x = EDGE + (n // half) * (column + 20)
        at = start + (n % half) * 25
        words(sheet.p, LIGHT, name, x, at, "quiet", font=fonts.text(BODY))
        words(sheet.p, LIGHT, value, x + column, at, font=fonts.text(BODY + 1, bold=True), align="right")
    if held is not None and rose:
        draw_rose(sheet.p, LIGHT, held, QPointF(sheet.wide - EDGE - 66, start + 46), 50)
    return start + max(half * 25, 120 if rose else 0) + 14


def _cautions(sheet: Sheet, y: float) -> None:
    """What stops the work, then the cautions of all steps, as many as the page holds."""
    held = stops(sheet.plan.a)
    if held:
        y = sheet.rule("Stops", EDGE, y, sheet.room, "read before you lift")
        for f in held:
            status_mark(sheet.p, LIGHT, f.status, EDGE + 8, y - 6, 13)
            y += sheet.text(f"{f.text} {f.remedy}".strip(), EDGE + 26, y, sheet.room - 26) + 7
        y += 12
    cautions = {c.key: c for s in sheet.plan.steps for c in s.cautions}
    if not cautions:
        return
    y = sheet.rule("Take care", EDGE, y, sheet.room, "usual cautions; local rules and qualified people come first")
    for c in cautions.values():
        told = f"{c.hazard}. {c.care}. Gear: {c.gear[0].lower()}{c.gear[1:]}. Stop: {c.stop[0].lower()}{c.stop[1:]}."
        if y + sheet.tall(told, sheet.room, 14) > sheet.foot:
            return
        y += sheet.text(told, EDGE, y, sheet.room, 14) + 6
