"""The sheet on paper: one A4 page for a tree in a pot. Vector lines; washes of the pot as pictures."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path

from PyQt6.QtCore import QLineF, QMarginsF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPageSize, QPainter, QPdfWriter, QPen, QPicture

from kesh.advice.assess import Assessment
from kesh.advice.planting.cautions import cautions_for
from kesh.advice.planting.soil_batch import WASTE, soil_batch
from kesh.advice.planting.worksheet import cut_lines, front_lines, hardware_lines, season_line
from kesh.base.errors import KeshError
from kesh.base.units import Units
from kesh.base.writing import write_bytes
from kesh.desk.bench import Stand
from kesh.desk.brief import WORDS, band_rows, band_words, show
from kesh.desk.lineup import size_words
from kesh.desk.shelf import overall_fact
from kesh.figure.tree_figure import figure_of
from kesh.model import Planting, Purpose
from kesh.model.tree import HANGING
from kesh.reference.tables import USUAL_BARK, USUAL_LEAF
from kesh.ui.paint.answer_marks import QUESTION_WORDS, answer_mark
from kesh.ui.paint.marks import dimension, status_mark, words
from kesh.ui.paint.pot_painter import draw_pot, draw_soil_line
from kesh.ui.paint.scene import SEATED_MM
from kesh.ui.paint.section_painter import draw_section
from kesh.ui.paint.tree_painter import draw_tree, paint_for
from kesh.ui.paper.drawings_out import memory
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT, STATUS_ROLE, Theme

PURPOSE_WORDS = {
    Purpose.GROW_ON: "grow on",
    Purpose.TRAIN_ROOTS: "train roots",
    Purpose.REFINE: "refine",
    Purpose.SHOW: "show",
    Purpose.HOLD: "hold and recover",
    Purpose.CUTTING: "root a cutting",
    Purpose.FOREST: "keep a group",
    Purpose.CASCADE: "hang as a cascade",
    Purpose.TUBE: "bare its roots in a tube",
    Purpose.ROCK: "grow over a rock",
    Purpose.CROP: "bear a crop",
    Purpose.DESERT: "keep a plant of dry lands",
}
UNIT_MM, DPI = 0.25, 300
WIDE, HIGH, EDGE = 840.0, 1188.0, 52.0
SCALES = (1, 1.5, 2, 2.5, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20, 25, 30)


@contextmanager
def paper(
    title: str, found: list[bytes], size: QPageSize.PageSizeId = QPageSize.PageSizeId.A4
) -> Iterator[tuple[QPainter, QPdfWriter]]:
    """A PDF to paint on, A4 unless another size is asked for; its bytes are put into `found` when the last stroke is done. Raises KeshError."""
    device = memory()
    writer = QPdfWriter(device)
    writer.setResolution(DPI)
    writer.setPageSize(QPageSize(size))
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setTitle(title)
    writer.setCreator("Kesh")
    painter = QPainter()
    if not painter.begin(writer):
        raise KeshError("the sheet cannot be painted; close other windows and try again")
    try:
        with fonts.on_paper():
            yield painter, writer
    finally:
        painter.end()
    found.append(device.data().data())


def print_assessment(a: Assessment, path: Path, units: Units, today: date, money: str) -> None:
    """Write one A4 page. Raises KeshError when the place cannot be written."""
    write_bytes(path, sheet_pdf(a, units, today, money))


def sheet_pdf(a: Assessment, units: Units, today: date, money: str) -> bytes:
    """One A4 page as PDF. Raises KeshError when it cannot be painted."""
    found: list[bytes] = []
    with paper(f"{a.case.tree.name} in {a.pot.name}", found) as (painter, _):
        painter.scale(DPI / 25.4 * UNIT_MM, DPI / 25.4 * UNIT_MM)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        # a first pass on scratch paper tells how much higher the drawings may be
        scratch_paper = QPicture()
        trial = QPainter(scratch_paper)
        spare = Page(trial, a, units, today, money).paint()
        trial.end()
        Page(painter, a, units, today, money).paint(max(0.0, spare - 40))
    return found[0]


def scale_for(wide_mm: float, high_mm: float, room_w: float, room_h: float) -> float:
    """The largest round scale 1:n at which a drawing fits a box in page units."""
    need = max(wide_mm / (room_w * UNIT_MM), high_mm / (room_h * UNIT_MM))
    return next((n for n in SCALES if n >= need), float(round(need + 0.5)))


def stand_of(a: Assessment) -> Stand:
    """The tree as it would stand in the pot."""
    tree, pot = a.case.tree, a.pot
    seat = Planting(id="sheet", tree=tree.id, pot=pot.id, offset_x_mm=a.seat.x_mm, raise_mm=a.seat.raise_mm)
    return Stand(tree, pot, seat)


def draw_composition(p: QPainter, t: Theme, a: Assessment, foot: QPointF, k: float) -> None:
    """Tree, soil line and pot on paper at k units a mm; `foot` is the middle of the pot on its ground line."""
    tree, pot, m, species, stand = a.case.tree, a.pot, a.case.tree.measure, a.case.species, stand_of(a)
    figure = figure_of(tree, species)

    def paint_tree() -> None:
        if figure is None:
            return
        p.save()
        # places of a group are counted from the tray's middle
        x_mm = 0.0 if figure.sitter.stems else stand.trunk_x_mm
        p.translate(foot.x() + x_mm * k, foot.y() - (stand.root_top_mm - SEATED_MM) * k)
        p.rotate(a.case.planting.tilt_deg if a.case.planting is not None else 0.0)
        p.scale(k, k)
        bloom = species.flower_or_fruit_colour_hex if species else None
        fruit = bool(species and species.flowering_or_fruiting in ("fruit", "both"))
        bark = species.bark_colour_hex if species else USUAL_BARK
        leaf = species.leaf_colour_hex if species else USUAL_LEAF
        draw_tree(p, figure, paint_for(t, bark, leaf, bloom, fruit=fruit), k)
        p.restore()

    hanging = tree.style in HANGING
    if not hanging:
        paint_tree()
    p.save()
    p.translate(foot)
    p.scale(k, k)
    flare = m.flare_width_mm or 1.5 * (m.trunk_diameter_mm or 40.0)
    draw_soil_line(p, pot, t, k, mound_mm=a.case.mound_mm, seed=tree.seed, foot_mm=flare, trunk_x_mm=stand.trunk_x_mm)
    draw_pot(p, pot, t, k)
    p.restore()
    if hanging:
        paint_tree()


class Page:
    """Painter of the page, in units of a quarter millimetre."""

    def __init__(self, painter: QPainter, a: Assessment, units: Units, today: date, money: str) -> None:
        self.p, self.a, self.u, self.today, self.money = painter, a, units, today, money
        self.t = LIGHT

    def paint(self, grow: float = 0.0) -> float:
        """Head, drawings, three columns of figures, cautions. `grow` makes the drawings higher; returns what is spare."""
        self._head()
        self._elevation(QRectF(EDGE, 118, 400, 424 + grow))
        self._section(QRectF(EDGE + 424, 118, WIDE - 2 * EDGE - 424, 200 + grow))
        self._brief(EDGE + 424, 350 + grow, WIDE - 2 * EDGE - 424)
        column = (WIDE - 2 * EDGE - 40) / 3
        y = 580.0 + grow
        ends = [
            self._cuts(EDGE, y, column),
            self._soil(EDGE + column + 20, y, column),
            self._hardware(EDGE + 2 * (column + 20), y, column),
        ]
        floor = self._cautions(HIGH - EDGE - 14)
        end = self._findings(max(ends) + 12, floor - 8)
        told = "Starting points; your tree and climate decide. Limits and bands are custom or models, not measurements."
        words(self.p, self.t, told, EDGE, HIGH - EDGE + 8, "quiet", font=fonts.text(11))
        words(
            self.p,
            self.t,
            f"Kesh, {self.today:%-d %B %Y}",
            WIDE - EDGE,
            HIGH - EDGE + 8,
            "quiet",
            font=fonts.text(11),
            align="right",
        )
        return max(0.0, floor - end)

    def _rule(self, text: str, x: float, y: float, width: float, note: str = "") -> float:
        self.p.setFont(fonts.book(16, bold=True))  # small capitals would not be found when the text is searched
        self.p.setPen(self.t.color("ink"))
        self.p.drawText(QPointF(x, y), text)
        if note:
            words(self.p, self.t, note, x + width, y, "quiet", font=fonts.text(12), align="right")
        self.p.setPen(QPen(self.t.color("edge"), 0.8))
        self.p.drawLine(QLineF(x, y + 5, x + width, y + 5))
        return y + 22

    def _lines(self, lines: tuple[str, ...], x: float, y: float, width: float, px: float = 12) -> float:
        for line in lines:
            y += self._wrapped(line, x, y, width, px) + 3
        return y

    def _wrapped(
        self, text: str, x: float, y: float, width: float, px: float = 12, role: str = "ink", bold: bool = False
    ) -> float:
        font = fonts.text(px, bold=bold)
        metrics = QFontMetricsF(font)
        box = metrics.boundingRect(QRectF(0, 0, width, 1000), Qt.TextFlag.TextWordWrap, text)
        self.p.setFont(font)
        self.p.setPen(self.t.color(role))
        self.p.drawText(QRectF(x, y - metrics.ascent(), width, box.height() + 2), Qt.TextFlag.TextWordWrap, text)
        return float(box.height())

    def _head(self) -> None:
        a, tree, pot = self.a, self.a.case.tree, self.a.pot
        words(self.p, self.t, f"{tree.name} in {pot.name}", EDGE, 74, font=fonts.book(27))
        species = a.case.species.common_name if a.case.species else "species not named"
        style, stage = tree.style.replace("_", " "), tree.stage.replace("_", " ")
        line = f"{species}, {style}, {stage}. Judged by the {a.case.school.name.lower()} school, to {PURPOSE_WORDS[a.case.brief.purpose]}."
        words(self.p, self.t, line, EDGE, 95, "quiet", font=fonts.text(14))
        x = WIDE - EDGE
        for question, answer in reversed(a.answers.each()):
            word = QUESTION_WORDS[question]
            x -= words(self.p, self.t, word, x, 74, STATUS_ROLE[answer.status], font=fonts.book(16), align="right") + 12
            answer_mark(self.p, self.t, question, answer.status, x, 69, 15)
            x -= 22
        self.p.setPen(QPen(self.t.color("ink"), 1.2))
        self.p.drawLine(QLineF(EDGE, 106, WIDE - EDGE, 106))

    def _elevation(self, box: QRectF) -> None:
        p, t, u, a = self.p, self.t, self.u, self.a
        pot, m, stand = a.pot, a.case.tree.measure, stand_of(a)
        left, right = stand.reach()
        low = min(0.0, stand.root_top_mm - (m.drop_mm or 0.0))
        n = scale_for(right - left, stand.top_mm - low, box.width() - 74, box.height() - 92)
        k = 1 / n / UNIT_MM
        foot = QPointF(box.center().x() - (left + right) / 2 * k + 4, box.bottom() - 46 + low * k)
        draw_composition(p, t, a, foot, k)
        p.setPen(QPen(t.color("ink"), 1.4))
        p.drawLine(QLineF(box.left(), foot.y(), box.right(), foot.y()))
        # the rim as stated, and the size over all where belly, bands or lobes make it another
        whole = overall_fact(pot, u)
        over_all = f" at the rim, {whole[0].value} over all" if whole else ""
        half, below = pot.length_mm / 2 * k, foot.y() + max(0.0, -low) * k + 16
        told = f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)}{over_all}"
        dimension(p, t, QPointF(foot.x() - half, below), QPointF(foot.x() + half, below), told)
        side = foot.x() + min(left, -pot.length_mm / 2) * k - 12
        dimension(p, t, QPointF(side, foot.y()), QPointF(side, foot.y() - pot.height_mm * k), u.figure(pot.height_mm))
        if m.height_mm is not None:
            x = foot.x() + right * k + 14
            top = foot.y() - (stand.root_top_mm + m.height_mm) * k
            dimension(p, t, QPointF(x, foot.y() - stand.root_top_mm * k), QPointF(x, top), u.figure(m.height_mm))
        if m.canopy_left_mm is not None and m.canopy_right_mm is not None:
            y, x = foot.y() - stand.top_mm * k - 14, foot.x() + stand.trunk_x_mm * k
            dimension(p, t, QPointF(x - m.canopy_left_mm * k, y), QPointF(x, y), u.figure(m.canopy_left_mm), bold=False)
            dimension(
                p, t, QPointF(x, y), QPointF(x + m.canopy_right_mm * k, y), u.figure(m.canopy_right_mm), bold=False
            )
        share = 0.5 + stand.trunk_x_mm / pot.length_mm
        note = f"Front, scale 1 : {n:g}. Trunk at {share:.0%} of the length from the left; figures in {u.length}"
        words(p, t, note, box.left(), box.bottom() + 4, "quiet", font=fonts.book(13, italic=True))

    def _section(self, box: QRectF) -> None:
        p, t, a, pot = self.p, self.t, self.a, self.a.pot
        roots = a.case.roots
        wide = max(pot.length_mm, roots.length_mm + 2 * abs(a.seat.x_mm) if roots else 0.0)
        high = (
            max(
                pot.height_mm + max(a.seat.raise_mm, 0.0),
                pot.height_mm - pot.inner_depth_mm + (roots.depth_mm if roots else 0.0),
            )
            + 6
        )
        n = scale_for(wide, high, box.width() - 44, box.height() - 52)
        k = 1 / n / UNIT_MM
        foot = QPointF(box.center().x() - 12, box.bottom() - 34)
        p.save()
        p.translate(foot)
        p.scale(k, k)
        draw_section(p, a, t, k)
        p.restore()
        p.setPen(QPen(t.color("ink"), 1.2))
        p.drawLine(QLineF(box.left(), foot.y(), box.right(), foot.y()))
        side = foot.x() + wide / 2 * k + 14
        floor = foot.y() - (pot.feet_mm + pot.floor_mm) * k
        dimension(
            p,
            t,
            QPointF(side, floor),
            QPointF(side, foot.y() - pot.height_mm * k),
            self.u.figure(pot.inner_depth_mm),
            side=1,
        )
        notes = f"Section, scale 1 : {n:g}. Hatched: comes off. Blue: stays wet."
        words(p, t, notes, box.left(), box.bottom() - 10, "quiet", font=fonts.book(13, italic=True))

    def _brief(self, x: float, y: float, width: float) -> None:
        t, u, a = self.t, self.u, self.a
        y = self._rule("Brief", x, y, width, "asked for / this pot")
        for row in band_rows(a.case, a):
            status_mark(self.p, t, row.status, x + 6, y - 4, 9)
            words(self.p, t, WORDS[row.name], x + 18, y, font=fonts.text(13))
            words(self.p, t, band_words(row.judge, u), x + width - 66, y, "quiet", font=fonts.text(13), align="right")
            value = "……" if row.present is None else show(row.present, row.unit, u)
            words(self.p, t, value, x + width, y, font=fonts.text(13, bold=True), align="right")
            y += 18
        f = a.figures
        rows = [("Size outside", size_words(a.pot, u)), ("Depth inside", u.mm(a.pot.inner_depth_mm))]
        if f.stand is not None:
            rows.append(
                (
                    "Planted, dry and wet",
                    f"{u.kg(float(f.stand.mass_dry_kg[0]))}, {u.kg(float(f.stand.mass_wet_kg[0]))}",
                )
            )
            rows.append(("Tips over at", f"{float(f.stand.tip_angle_deg[0]):.0f}°"))
        if f.water is not None and f.plantable[0]:
            foot = f.wet_foot_h
            hours = "" if foot is None or not foot[0] < 1e4 else f"; wet foot {foot[0]:.0f} h"
            rows.append(("Air once drained", f"{float(f.water.air_mean[0]):.0%}{hours}"))
            rows.append(
                ("Stays wet", f"{u.mm(float(f.water.wet_height_mm[0]))}, {float(f.water.wet_share[0]):.0%} of the soil")
            )
        if a.pot.price is not None and a.pot.state not in ("shelf", "in_use"):
            rows.append(("Price", f"{self.money} {a.pot.price:g}".strip()))
        y += 2
        for name, value in rows[:6]:
            words(self.p, t, name, x + 18, y, "quiet", font=fonts.text(12))
            words(self.p, t, value, x + width, y, font=fonts.text(12), align="right")
            y += 15.5

    def _cuts(self, x: float, y: float, width: float) -> float:
        y = self._rule("Seat and cuts", x, y, width)
        return self._lines((*front_lines(self.a), *cut_lines(self.a, self.u), season_line(self.a)), x, y, width)

    def _soil(self, x: float, y: float, width: float) -> float:
        t, u, found = self.t, self.u, soil_batch(self.a)
        y = self._rule("Soil to measure out", x, y, width)
        if found is None:
            return self._lines(("No mix is chosen, or the pot has no room for it.",), x, y, width)
        for line in found.lines:
            name = QFontMetricsF(fonts.text(12)).elidedText(
                f"{line.name}, {line.grains}", Qt.TextElideMode.ElideRight, width - 52
            )
            words(self.p, t, name, x, y, font=fonts.text(12))
            words(self.p, t, u.litres(line.litres), x + width, y, font=fonts.text(12, bold=True), align="right")
            y += 16
        words(self.p, t, "In all, loose", x, y, font=fonts.text(12, bold=True))
        words(self.p, t, u.litres(found.total_l), x + width, y, font=fonts.text(12, bold=True), align="right")
        y += 16
        note = (
            f"{self.a.case.mix.name if self.a.case.mix else 'Mix'}. Fresh mix and layer fill {u.litres(found.net_l)}. Mixing takes {max(found.loss, 0.0):.0%}; "
            f"{found.settling.value:.0%} is added for sinking, {WASTE:.0%} for spills. "
            f"About {found.total_l / found.scoop_l:.0f} scoops of {u.litres(found.scoop_l)}, {u.kg(found.dry_kg)} dry."
        )
        return y + self._wrapped(note, x, y, width, 12, "quiet") + 4

    def _hardware(self, x: float, y: float, width: float) -> float:
        y = self._rule("Screens and wires", x, y, width)
        return self._lines(hardware_lines(self.a, self.u), x, y, width)

    def _findings(self, y: float, floor: float) -> float:
        t, width = self.t, (WIDE - 2 * EDGE - 20) / 2
        grave = [f for f in self.a.findings if f.status != "fits"]
        fits = [f for f in self.a.findings if f.status == "fits"]
        y = self._rule("Findings", EDGE, y, WIDE - 2 * EDGE, f"{len(grave)} to look at, {len(fits)} fit")
        tops, also = [y, y], []
        for finding in grave:
            side = 0 if tops[0] <= tops[1] else 1
            x = EDGE + side * (width + 20)
            text = f"{finding.text} {finding.remedy}".strip()
            high = (
                QFontMetricsF(fonts.text(12))
                .boundingRect(QRectF(0, 0, width - 18, 500), Qt.TextFlag.TextWordWrap, text)
                .height()
            )
            if tops[side] + high > floor - 14:
                also.append(finding.short)
                continue
            status_mark(self.p, t, finding.status, x + 6, tops[side] - 4, 9)
            tops[side] += self._wrapped(text, x + 18, tops[side], width - 18) + 4
        if also:
            font = fonts.text(12)
            told = QFontMetricsF(font).elidedText(
                f"Also: {'; '.join(also)}.", Qt.TextElideMode.ElideRight, WIDE - 2 * EDGE
            )
            words(self.p, self.t, told, EDGE, floor, "quiet", font=font)
            return floor
        return max(tops)

    def _cautions(self, floor: float) -> float:
        """Lay the cautions on the foot of the page; returns where they begin."""
        found, width = cautions_for(self.a), (WIDE - 2 * EDGE - 20) / 2
        metrics = QFontMetricsF(fonts.text(11))
        texts = [
            f"{c.hazard}. {c.care}. Gear: {c.gear[0].lower() + c.gear[1:]}. Stop: {c.stop[0].lower() + c.stop[1:]}."
            for c in found
        ]
        heights = [
            metrics.boundingRect(QRectF(0, 0, width, 500), Qt.TextFlag.TextWordWrap, x).height() + 4 for x in texts
        ]
        tops = [0.0, 0.0]
        places = []
        for text, high in zip(texts, heights, strict=True):
            side = 0 if tops[0] <= tops[1] else 1
            places.append((text, side, tops[side]))
            tops[side] += high
        start = floor - max(tops)
        self._rule(
            "Take care",
            EDGE,
            start - 20,
            WIDE - 2 * EDGE,
            "usual cautions; local rules and qualified people come first",
        )
        for text, side, down in places:
            self._wrapped(text, EDGE + side * (width + 20), start + down + 2, width, 11)
        return start - 40
