"""The work sheet on paper, A4 or A3: the place to scale, the cut list, soil and what must lie ready, the work with boxes to tick."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPageSize, QPainter, QPdfWriter, QPen

from kesh.advice.aftercare import Done, steps_after
from kesh.advice.planting_plan import PlantingPlan
from kesh.advice.rehearsal import stops
from kesh.advice.root_base import root_base
from kesh.advice.steps.step import FINISH_TESTS, WorkStep
from kesh.errors import FieldError
from kesh.model import Planting
from kesh.ui.printing import DPI, UNIT_MM, draw_composition, paper, scale_for, stand_of
from kesh.ui.sheet.cuts_painter import draw_way
from kesh.ui.sheet.layers import plainly
from kesh.ui.sheet.marks import dimension, status_mark, words
from kesh.ui.sheet.planting_plan_painter import (
    Plane,
    draw_flow,
    draw_ground,
    draw_holes,
    draw_mass,
    draw_sizes,
    draw_trunk,
    draw_wires,
)
from kesh.ui.sheet.rose_painter import draw_rose
from kesh.ui.sheet.step_painter import draw_step
from kesh.ui.state.lineup import size_words
from kesh.ui.state.planting import title_words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT
from kesh.writing import write_bytes

EDGE, BODY = 52.0, 17.0
PAPERS = {"A4": (QPageSize.PageSizeId.A4, 840.0, 1188.0), "A3": (QPageSize.PageSizeId.A3, 1188.0, 1680.0)}
LAID_SCALES = (1, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 15, 20)


def write_worksheet(plan: PlantingPlan, path: Path, today: date, size: str = "A4") -> None:
    """Write the work sheet. Raises KeshError when the place cannot be written."""
    write_bytes(path, worksheet_pdf(plan, today, size))


def worksheet_pdf(plan: PlantingPlan, today: date, size: str = "A4") -> bytes:
    """All pages as PDF. Raises FieldError for a paper that is not known."""
    if size not in PAPERS:
        raise FieldError("paper", f"'{size}' is not A4 or A3")
    page_size, wide, high = PAPERS[size]
    found: list[bytes] = []
    with paper(f"{plan.a.case.tree.name} into {plan.a.pot.name}: work sheet", found, page_size) as (painter, writer):
        painter.scale(DPI / 25.4 * UNIT_MM, DPI / 25.4 * UNIT_MM)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        _Sheets(painter, writer, plan, today, wide, high).paint()
    return found[0]


@dataclass
class _Sheets:
    """Painter of all pages, in units of a quarter millimetre."""

    p: QPainter
    writer: QPdfWriter
    plan: PlantingPlan
    today: date
    wide: float
    high: float
    number: int = 1

    def paint(self) -> None:
        self._place()
        self._turn()
        self._cuts()
        self._turn()
        self._work()

    @property
    def room(self) -> float:
        return self.wide - 2 * EDGE

    @property
    def foot(self) -> float:
        return self.high - EDGE - 18

    def _turn(self) -> None:
        self._footer()
        self.writer.newPage()
        self.number += 1

    def _footer(self) -> None:
        told = f"{self.plan.a.case.tree.name} into {self.plan.a.pot.name}, {self.today:%-d %B %Y}"
        words(self.p, LIGHT, told, EDGE, self.high - EDGE + 6, "quiet", font=fonts.text(13))
        words(
            self.p,
            LIGHT,
            f"page {self.number}",
            self.wide - EDGE,
            self.high - EDGE + 6,
            "quiet",
            font=fonts.text(13),
            align="right",
        )

    def _rule(self, text: str, x: float, y: float, width: float, note: str = "") -> float:
        self.p.setFont(fonts.book(22, bold=True))
        self.p.setPen(LIGHT.color("ink"))
        self.p.drawText(QPointF(x, y), text)
        if note:
            words(self.p, LIGHT, note, x + width, y, "quiet", font=fonts.text(14), align="right")
        self.p.setPen(QPen(LIGHT.color("edge"), 1.0))
        self.p.drawLine(QLineF(x, y + 7, x + width, y + 7))
        return y + 32

    def _text(
        self, text: str, x: float, y: float, width: float, px: float = BODY, role: str = "ink", *, bold: bool = False
    ) -> float:
        """A paragraph with its first baseline at y; returns its height."""
        font = fonts.text(px, bold=bold)
        metrics = QFontMetricsF(font)
        box = metrics.boundingRect(QRectF(0, 0, width, 4000), Qt.TextFlag.TextWordWrap, text)
        self.p.setFont(font)
        self.p.setPen(LIGHT.color(role))
        self.p.drawText(QRectF(x, y - metrics.ascent(), width, box.height() + 3), Qt.TextFlag.TextWordWrap, text)
        return float(box.height())

    def _tall(self, text: str, width: float, px: float = BODY, *, bold: bool = False) -> float:
        metrics = QFontMetricsF(fonts.text(px, bold=bold))
        return float(metrics.boundingRect(QRectF(0, 0, width, 4000), Qt.TextFlag.TextWordWrap, text).height())

    def _box(self, x: float, y: float, side: float = 17.0) -> None:
        """A box to tick, its lower edge on the baseline."""
        self.p.setPen(QPen(LIGHT.color("ink"), 1.4))
        self.p.setBrush(Qt.BrushStyle.NoBrush)
        self.p.drawRect(QRectF(x, y - side + 2, side, side))

    # --- page one

    def _planting(self) -> Planting:
        a = self.plan.a
        found = a.case.planting
        return (
            found
            if found is not None
            else Planting(
                id="sheet", tree=a.case.tree.id, pot=a.pot.id, offset_x_mm=a.seat.x_mm, offset_y_mm=a.seat.y_mm
            )
        )

    def _place(self) -> None:
        a, p = self.plan.a, self.p
        planting = self._planting()
        words(p, LIGHT, f"{a.case.tree.name} into {a.pot.name}", EDGE, 78, font=fonts.book(36))
        species = a.case.species.common_name if a.case.species else "species not named"
        told = f"{species}. {title_words(self.plan, planting)}. {a.pot.name} is {size_words(a.pot, self.plan.u)} {self.plan.u.length} outside."
        y = 104 + self._text(told, EDGE, 108, self.room, BODY, "quiet")
        p.setPen(QPen(LIGHT.color("ink"), 1.4))
        p.drawLine(QLineF(EDGE, y, self.wide - EDGE, y))
        tall = (self.high - y - EDGE) * 0.46
        split = self.room * 0.6
        self._from_above(QRectF(EDGE, y + 8, split - 14, tall), planting)
        self._from_front(QRectF(EDGE + split + 10, y + 8, self.room - split - 10, tall))
        y += tall + 50
        y = self._figures(y)
        self._cautions(y)

    def _from_above(self, box: QRectF, planting: Planting) -> None:
        a, p = self.plan.a, self.p
        n = scale_for(a.pot.length_mm, a.pot.width_mm, box.width() - 76, box.height() - 84)
        k = 1 / n / UNIT_MM
        plane = Plane(QPointF(box.center().x() + 4, box.center().y() - 4), k)
        draw_ground(p, self.plan, LIGHT, plane, plainly)
        base = root_base(a)
        draw_mass(p, self.plan, LIGHT, plane, base)
        draw_holes(p, self.plan, LIGHT, plane, screens=True)
        draw_trunk(p, self.plan, LIGHT, plane, (planting.offset_x_mm, planting.offset_y_mm), held=False)
        draw_wires(p, self.plan, LIGHT, plane, base, "")
        draw_sizes(p, self.plan, LIGHT, plane, planting, all_round=False)
        draw_flow(p, self.plan, LIGHT, plane)
        words(
            p,
            LIGHT,
            f"From above, front at the foot, scale 1 : {n:g}",
            box.left(),
            box.bottom(),
            "quiet",
            font=fonts.book(15, italic=True),
        )

    def _from_front(self, box: QRectF) -> None:
        a, p, u = self.plan.a, self.p, self.plan.u
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
        dimension(
            p, LIGHT, QPointF(foot.x() - half, y), QPointF(x, y), u.figure(a.pot.length_mm / 2 + stand.trunk_x_mm)
        )
        dimension(
            p, LIGHT, QPointF(x, y), QPointF(foot.x() + half, y), u.figure(a.pot.length_mm / 2 - stand.trunk_x_mm)
        )
        words(
            p,
            LIGHT,
            f"Front, scale 1 : {n:g}; figures in {u.length}",
            box.left(),
            box.bottom(),
            "quiet",
            font=fonts.book(15, italic=True),
        )

    def _figures(self, y: float) -> float:
        """What decides, in two columns, and the rose of what holds."""
        a, u, plan = self.plan.a, self.plan.u, self.plan
        held, batch, fit = plan.ties, plan.batch, a.figures.roots
        rows = [("Trunk from the left rim", u.mm(a.pot.length_mm / 2 + a.seat.x_mm)), ("Trunk from the front rim", u.mm(a.pot.width_mm / 2 + a.seat.y_mm)),
                ("Roots over the rim" if a.seat.raise_mm >= 0 else "Roots under the rim", u.mm(abs(a.seat.raise_mm))), ("Soil below the rim", u.mm(a.case.headspace_mm)), ("Mound", u.mm(a.case.mound_mm))]  # fmt: skip
        if fit is not None:
            rows += [
                ("Off the bottom", u.mm(float(fit.off_bottom_mm[0]))),
                ("Root mass stays", u.mm(float(fit.kept_depth_mm[0]))),
                ("Feeders taken", f"{float(fit.removed_feeder_share[0]):.0%}"),
            ]
        if batch is not None:
            rows.append(("Soil, loose, in all", u.litres(batch.total_l)))
        if held is not None and held.hold is not None:
            rows.append(("Holds at the apex", f"{float(held.hold.rose_n.min()):.0f} N"))
        if a.figures.stand is not None:
            rows.append(("Wet, planted", u.kg(float(a.figures.stand.mass_wet_kg[0]))))
        start = self._rule("The figures", EDGE, y, self.room, "starting points; your tree decides")
        rose = 150.0 if held is not None and held.hold is not None else 0.0
        column = (self.room - rose - 40) / 2
        half = -(-len(rows) // 2)
        for n, (name, value) in enumerate(rows):
            x = EDGE + (n // half) * (column + 20)
            at = start + (n % half) * 25
            words(self.p, LIGHT, name, x, at, "quiet", font=fonts.text(BODY))
            words(self.p, LIGHT, value, x + column, at, font=fonts.text(BODY + 1, bold=True), align="right")
        if held is not None and rose:
            draw_rose(self.p, LIGHT, held, QPointF(self.wide - EDGE - 66, start + 46), 50)
        return start + max(half * 25, 120 if rose else 0) + 14

    def _cautions(self, y: float) -> None:
        """What stops the work, then the cautions of all steps, as many as the page holds."""
        held = stops(self.plan.a)
        if held:
            y = self._rule("Stops", EDGE, y, self.room, "read before you lift")
            for f in held:
                status_mark(self.p, LIGHT, f.status, EDGE + 8, y - 6, 13)
                y += self._text(f"{f.text} {f.remedy}".strip(), EDGE + 26, y, self.room - 26) + 7
            y += 12
        cautions = {c.key: c for s in self.plan.steps for c in s.cautions}
        if not cautions:
            return
        y = self._rule("Take care", EDGE, y, self.room, "usual cautions; local rules and qualified people come first")
        for c in cautions.values():
            told = (
                f"{c.hazard}. {c.care}. Gear: {c.gear[0].lower()}{c.gear[1:]}. Stop: {c.stop[0].lower()}{c.stop[1:]}."
            )
            if y + self._tall(told, self.room, 14) > self.foot:
                return
            y += self._text(told, EDGE, y, self.room, 14) + 6

    # --- page two

    def _cuts(self) -> None:
        plan, u, p = self.plan, self.plan.u, self.p
        cuts = plan.cuts
        y = self._rule("Cut list", EDGE, 78, self.room, "cut before the tree is lifted")
        if cuts is None:
            y += self._text("Screens and wires follow once the root mass is measured: step 1.", EDGE, y, self.room) + 12
        else:
            longest = max((w.length_mm for w in cuts.ties), default=1.0)
            n = next((s for s in LAID_SCALES if longest / s / UNIT_MM <= self.room - 150), LAID_SCALES[-1])
            k = 1 / n / UNIT_MM
            for w in cuts.ties:
                self._box(EDGE, y + 4)
                words(p, LIGHT, w.id, EDGE + 28, y + 4, font=fonts.text(BODY + 2, bold=True))
                end = draw_way(p, LIGHT, w.way, EDGE + 56, y, k, u)
                words(p, LIGHT, u.mm(w.length_mm), end + 12, y + 5, font=fonts.text(BODY + 2, bold=True))
                y += 32
            if cuts.ties:
                gauges = ", ".join(
                    f"{g:g} mm {metal} {m:.2f} m"
                    for (metal, g), m in sorted(cuts.totals_m().items(), key=lambda kv: -kv[1])
                )
                scale = "laid out 1 : 1" if n == 1 else f"laid out 1 : {n:g}"
                y += (
                    self._text(
                        f"Wires {scale}; wavy ends are twisted, dashed runs under the floor. In all {gauges}; one spare of {u.mm(cuts.spare_mm)}.",
                        EDGE,
                        y,
                        self.room,
                        14,
                        "quiet",
                    )
                    + 12
                )
            y = self._screens(y)
        y = self._soil(y + 34)
        self._ready(y + 34)

    def _screens(self, y: float) -> float:
        """Screens at their own size where they fit, clips and rods beside them."""
        u, p, cuts = self.plan.u, self.p, self.plan.cuts
        assert cuts is not None
        sizes: dict[float, int] = {}
        for s in cuts.screens:
            sizes[round(s.length_mm)] = sizes.get(round(s.length_mm), 0) + 1
        x, low = EDGE, y
        for mm, count in sizes.items():
            fits = mm / UNIT_MM <= 300
            side = (mm if fits else mm / 2) / UNIT_MM
            self._box(x, y + 12)
            words(
                p,
                LIGHT,
                f"{count} × screen {u.figure(mm)} × {u.mm(mm)}",
                x + 28,
                y + 12,
                font=fonts.text(BODY, bold=True),
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
            self._box(right, at)
            at += self._text(line, right + 28, at, self.wide - EDGE - right - 28) + 10
        for c in cuts.clips[:1]:
            k = 1 / 2 / UNIT_MM if c.way.cut_mm / 2 / UNIT_MM < self.wide - EDGE - right - 40 else 1 / 4 / UNIT_MM
            end = draw_way(p, LIGHT, c.way, right, at + 14, k, u, "ink")
            words(p, LIGHT, f"clip 1 : {1 / k / UNIT_MM:g}", end + 8, at + 18, "quiet", font=fonts.text(13))
            at += 34
        return max(low, at)

    def _soil(self, y: float) -> float:
        u, p, batch = self.plan.u, self.p, self.plan.batch
        if batch is None:
            y = self._rule("Soil", EDGE, y, self.room)
            return y + self._text("No mix is chosen: step 5.", EDGE, y, self.room)
        y = self._rule(
            "Soil", EDGE, y, self.room, f"{u.litres(batch.total_l)} loose; a scoop is {u.litres(batch.scoop_l)}"
        )
        cells = (EDGE + 28, EDGE + self.room * 0.56, EDGE + self.room * 0.72, EDGE + self.room * 0.86, self.wide - EDGE)
        for line in batch.lines:
            self._box(EDGE, y)
            words(p, LIGHT, f"{line.name}, {line.grains}", cells[0], y, font=fonts.text(BODY))
            words(p, LIGHT, f"{line.scoops:.1f} scoops", cells[2], y, font=fonts.text(BODY, bold=True), align="right")
            words(p, LIGHT, u.litres(line.litres), cells[3], y, font=fonts.text(BODY), align="right")
            told = (
                ""
                if line.have_l is None
                else f"{u.litres(line.missing_l)} short"
                if line.missing_l > 0.005
                else "there"
            )
            words(
                p,
                LIGHT,
                told,
                cells[4],
                y,
                "oxide" if line.missing_l > 0.005 else "quiet",
                font=fonts.text(BODY),
                align="right",
            )
            y += 26
        places = ", ".join(f"{u.litres(v)} {k}" for k, v in batch.places_l.items())
        told = f"In the pot: {places}. {batch.settling.value:.0%} added for sinking ({batch.settling.words()}); keep {u.litres(batch.second_l)} back for the second helping."
        return y + self._text(told, EDGE, y, self.room, 14, "quiet")

    def _ready(self, y: float) -> None:
        rest = [r for r in self.plan.ready if r.need is None]
        if not rest or y > self.foot - 60:
            return
        y = self._rule("At hand", EDGE, y, self.room, "before the roots are bare")
        column = self.room / 3
        for n, r in enumerate(rest):
            x, at = EDGE + (n % 3) * column, y + (n // 3) * 28
            if at > self.foot:
                return
            self._box(x, at)
            words(self.p, LIGHT, r.words, x + 28, at, font=fonts.text(BODY))

    # --- the work

    def _work(self) -> None:
        steps = self.plan.steps
        y = self._rule("The work", EDGE, 78, self.room, "tick as you go")
        for n, step in enumerate(steps):
            tall = max(self._step_tall(step), 150.0)
            if y + tall > self.foot:
                self._turn()
                y = self._rule("The work", EDGE, 78, self.room, "went on")
            self._step(step, n, y, tall)
            y += tall + 12
        self._after(y)

    def _lines(self, step: WorkStep) -> Iterator[str]:
        if step.figure:
            yield f"{step.figure} {step.figure_words}".strip()
        if not step.checks:
            yield from step.lines

    def _step_tall(self, step: WorkStep) -> float:
        width = self.room - 250
        checks = sum(self._tall(FINISH_TESTS[k], width - 30) + 8 for k in step.checks)
        return 44 + sum(self._tall(x, width) + 6 for x in self._lines(step)) + checks

    def _step(self, step: WorkStep, n: int, y: float, tall: float) -> None:
        p = self.p
        self._box(EDGE, y + 24, 22)
        picture = QRectF(EDGE + 36, y + 4, 190, min(tall - 12, 140))
        draw_step(p, self.plan, step, picture, LIGHT, small=True)
        x, width = EDGE + 250, self.room - 250
        words(p, LIGHT, f"{n + 1}", x - 18, y + 24, "quiet", font=fonts.book(20, italic=True), align="right")
        room = width - 110
        font = next(
            (
                b
                for px in (24, 21, 18, 16)
                if QFontMetricsF(b := fonts.book(px, bold=True)).horizontalAdvance(step.title) <= room
            ),
            fonts.book(14, bold=True),
        )
        words(p, LIGHT, step.title, x, y + 24, font=font)
        minutes = "" if step.minutes is None or step.minutes < 0.5 else f"about {max(1, round(step.minutes))} min"
        words(p, LIGHT, minutes, self.wide - EDGE, y + 24, "quiet", font=fonts.text(14), align="right")
        at = y + 52
        for k, line in enumerate(self._lines(step)):
            at += self._text(line, x, at, width, BODY, "ink", bold=k == 0 and bool(step.figure)) + 6
        for key in step.checks:
            self._box(x, at)
            at += self._text(FINISH_TESTS[key], x + 30, at, width - 30) + 8
        p.setPen(QPen(LIGHT.color("rule"), 1))
        p.drawLine(QLineF(EDGE, y + tall + 4, self.wide - EDGE, y + tall + 4))

    def _after(self, y: float) -> None:
        """What follows, with its days, and lines for what was otherwise."""
        plan, a = self.plan, self.plan.a
        share = 0.0 if a.figures.roots is None else float(a.figures.roots.removed_feeder_share[0])
        tied = plan.ties is not None and bool(plan.ties.wires)
        rows = steps_after(a.case.species, Done(share, a.case.brief.root_views.old_soil == "wash", tied))
        if y + 200 > self.foot:
            self._turn()
            y = 78
        y = self._rule("Afterwards", EDGE, y + 10, self.room, "days after potting; a sign may end them sooner")
        for row in rows:
            days = f"day {row.start_day} to {row.end_day}" if row.end_day > row.start_day else f"day {row.start_day}"
            told = (
                f"{row.instruction} Ends: {row.end_early_when[0].lower()}{row.end_early_when[1:]}"
                if row.end_early_when
                else row.instruction
            )
            tall = self._tall(told, self.room - 170, 15)
            if y + tall > self.foot:
                self._turn()
                y = self._rule("Afterwards", EDGE, 78, self.room, "went on")
            words(self.p, LIGHT, days, EDGE, y, font=fonts.text(15, bold=True))
            y += self._text(told, EDGE + 170, y, self.room - 170, 15) + 7
        if y + 150 > self.foot:
            self._turn()
            y = 68
        y = self._rule("Done otherwise", EDGE, y + 20, self.room)
        self.p.setPen(QPen(LIGHT.color("edge"), 0.8))
        while y < min(self.foot, self.high - EDGE - 20):
            self.p.drawLine(QLineF(EDGE, y + 8, self.wide - EDGE, y + 8))
            y += 34
        self._footer()
