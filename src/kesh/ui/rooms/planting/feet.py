"""What stands at the foot of the planting's sheet: rose, legend, rim, cut list and soil; or lever, soil line and mound."""

from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.planting.placing import levelled, soil_line
from kesh.advice.planting.plan import PlantingPlan
from kesh.model import Planting
from kesh.science.stand.placement import Lever
from kesh.ui.paint.cuts_painter import cut_heads, draw_cut_list, draw_small_parts, draw_soil_bar, split_box
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import words
from kesh.ui.paint.rose_painter import draw_legend, draw_rose, legend_rows
from kesh.ui.rooms.planting.front_drawing import draw_lever, draw_rim, draw_two_mounds
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

TALL = 560


@dataclass(frozen=True)
class Foot:
    """Where the foot lies, px, and the plan's scale."""

    width: float
    height: float
    foot_px: float
    rose_px: float
    split_x: float
    px_mm: float

    @property
    def top(self) -> float:
        """Where it begins."""
        return self.height - self.foot_px


def _line(p: QPainter, t: Theme, foot: Foot) -> None:
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(16, foot.top, foot.width - 16, foot.top))


def draw_ties_foot(
    p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, foot: Foot, layers: Layers, wire: str,
    rest: PlantingPlan,
) -> None:  # fmt: skip
    """What holds it and what is cut for it. What hangs on nothing that is moved is painted once.

    `rest` is the plan as it was when the hand took hold: soil and small parts wait until it lets go.
    """
    u, top = plan.u, foot.top
    here = (foot, t.name, fonts.scaled(100))
    if foot.height >= fonts.scaled(TALL):
        r = fonts.scaled(42)
        head = top - foot.rose_px
        middle = QPointF(fonts.scaled(16) + r + fonts.scaled(16), top - foot.rose_px / 2 + fonts.scaled(1))
        words(
            p,
            t,
            "Holding force, N",
            fonts.scaled(16),
            head + fonts.scaled(6),
            "quiet",
            font=fonts.book(13, italic=True),
        )
        if plan.ties is not None:
            p.setRenderHint(QPainter.RenderHint.Antialiasing, not plan.a.case.hurry)
            draw_rose(p, t, plan.ties, middle, r, hurry=plan.a.case.hurry)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
        roots = plan.a.case.roots
        rows = legend_rows(sector=roots is not None and bool(roots.untouched))
        x = middle.x() + r + fonts.scaled(34)
        layers(
            p,
            "legend",
            (rows, here),
            lambda q: draw_legend(q, t, x, head + fonts.scaled(4), rows, fonts.scaled(14.5)),
            QRectF(x - 4, head - 16, foot.split_x - x + 4, foot.rose_px + 16),
        )
        rim = QRectF(
            foot.split_x + fonts.scaled(10),
            top - fonts.scaled(96),
            foot.width - foot.split_x - fonts.scaled(26),
            fonts.scaled(84),
        )
        key = (_rim_key(plan, planting), here)
        layers(
            p, "rim", key, lambda q: _rim(q, plan, planting, t, rim, foot), rim.adjusted(-4, -fonts.scaled(24), 20, 10)
        )
    if foot.foot_px <= 0:
        return
    _line(p, t, foot)
    soil_px = fonts.scaled(76) if foot.foot_px > fonts.scaled(150) else 0.0
    cuts, y = plan.cuts, top + fonts.scaled(20)
    words(p, t, "Cut list", fonts.scaled(16), y, font=fonts.section())
    if cuts is None:
        words(p, t, "follows once the root mass is measured: step 1", fonts.scaled(90), y, "quiet", font=fonts.text(13))
    else:
        words(p, t, cut_heads(cuts, u), fonts.scaled(84), y, "quiet", font=fonts.text(13))
        box = QRectF(
            fonts.scaled(16),
            top + fonts.scaled(28),
            foot.width - fonts.scaled(32),
            foot.foot_px - fonts.scaled(36) - soil_px,
        )
        draw_cut_list(p, t, cuts, box, u, wire, hurry=plan.a.case.hurry)
        small = (
            cuts.screens,
            cuts.sheet,
            cuts.clips,
            cuts.rods,
            cuts.mesh_mm,
            cuts.spare_mm,
            cuts.plan.stones if cuts.plan else (),
            u,
            here,
        )
        layers(
            p,
            "small parts",
            small,
            lambda q: draw_small_parts(q, t, cuts, split_box(box), u),
            split_box(box).adjusted(-4, -4, 16, 6),
        )
    if soil_px:
        batch = rest.batch
        lines = () if batch is None else tuple((x.key, round(x.litres, 2), round(x.missing_l, 2)) for x in batch.lines)
        filled = (lines, None if batch is None else tuple(round(v, 2) for v in batch.places_l.values()), u, here)
        layers(
            p,
            "soil",
            filled,
            lambda q: _soil(q, rest, t, foot, foot.height - soil_px),
            QRectF(0, foot.height - soil_px - 8, foot.width, soil_px + 8),
        )


def _rim_key(plan: PlantingPlan, planting: Planting) -> tuple[object, ...]:
    """All that the look of the rim hangs on; the place of the trunk is not in it."""
    case = plan.a.case
    return plan.a.pot, planting.raise_mm, case.headspace_mm, case.mound_mm, soil_line(plan.a), plan.u


def _rim(p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, rim: QRectF, foot: Foot) -> None:
    k = draw_rim(p, plan, planting, t, rim)
    told = f"Rim, {k / foot.px_mm:.1f} : 1 of the plan"
    words(
        p, t, told, rim.left() + fonts.scaled(6), rim.top() - fonts.scaled(4), "quiet", font=fonts.book(13, italic=True)
    )


def _plain_rim(p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, rim: QRectF) -> None:
    draw_rim(p, plan, planting, t, rim)


def _soil(p: QPainter, plan: PlantingPlan, t: Theme, foot: Foot, y: float) -> None:
    u, batch, left = plan.u, plan.batch, fonts.scaled(16)
    if batch is None:
        words(
            p,
            t,
            "Soil: choose a mix in step 5, and it is measured out here.",
            left,
            y + fonts.scaled(14),
            "quiet",
            font=fonts.text(13),
        )
        return
    used = words(p, t, f"{u.litres(batch.total_l)} of soil", left, y + fonts.scaled(12), font=fonts.text(14, bold=True))
    places = ", ".join(f"{u.litres(v)} {k}" for k, v in batch.places_l.items())
    told = f"{places}; {batch.settling.value:.0%} for sinking ({batch.settling.words()}); a scoop is {u.litres(batch.scoop_l)}"
    words(p, t, told, left + used + 10, y + fonts.scaled(12), "quiet", font=fonts.text(12))
    draw_soil_bar(p, t, batch, QRectF(left, y + fonts.scaled(19), foot.width - 2 * left, fonts.scaled(54)), u)


def draw_place_foot(
    p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, foot: Foot, layers: Layers, lever: Lever | None,
    gallery: Gallery,
) -> None:  # fmt: skip
    """Balance along the pot, the soil line with its heights, and the mound now and levelled."""
    if foot.foot_px <= 0:
        return
    u, top, left, tall = plan.u, foot.top, fonts.scaled(16), foot.foot_px
    _line(p, t, foot)
    wide = foot.width - 2 * left
    words(p, t, "Balance along the pot", left, top + fonts.scaled(20), font=fonts.section())
    if lever is not None:
        box = QRectF(
            left + fonts.scaled(36), top + fonts.scaled(32), 0.35 * wide - fonts.scaled(46), tall - fonts.scaled(56)
        )
        draw_lever(p, plan, t, lever, planting.offset_x_mm, box)
    rim = QRectF(left + 0.35 * wide, top + fonts.scaled(34), 0.37 * wide, tall - fonts.scaled(48))
    words(p, t, "Soil line", rim.left() + 8, top + fonts.scaled(20), font=fonts.section())
    key = (_rim_key(plan, planting), foot, t.name, fonts.scaled(100))
    layers(p, "place rim", key, lambda q: _plain_rim(q, plan, planting, t, rim), rim.adjusted(-4, -4, 20, 10))
    far = QRectF(rim.right() + 12, top + fonts.scaled(6), foot.width - rim.right() - 28, tall - fonts.scaled(8))
    words(p, t, "Mound", far.left(), top + fonts.scaled(20), font=fonts.section())
    if planting.mound_mm > 0:
        flat = levelled(plan.a) if not plan.a.case.hurry else None
        wet = ("", "") if flat is None or flat.wet_share is None else tuple(f", {v:.0%} wet" for v in flat.wet_share)
        draw_two_mounds(p, plan, planting, gallery, t, far, (f"{u.mm(planting.mound_mm)}{wet[0]}", f"level{wet[1]}"))
    else:
        words(p, t, "none: pull the soil up at M", far.left(), top + fonts.scaled(40), "quiet", font=fonts.text(12))
