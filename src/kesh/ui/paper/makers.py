"""A job on paper: one page of figures, steps and cautions, its drawings to a round scale, templates 1:1 over sheets."""

from collections.abc import Iterator, Sequence
from datetime import date
from pathlib import Path

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPageLayout, QPainter, QPainterPath, QPdfWriter, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.routes.job import LOCAL, Job
from kesh.advice.routes.routes import routes
from kesh.base.writing import write_bytes
from kesh.figure.drawing import Circle, Dim, Drawing, Line
from kesh.figure.pot_drawing import letters
from kesh.ui.paint.built import Built, built_of
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paper.printing import DPI, draw_composition, paper, scale_for, stand_of
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT

EDGE_MM, OVERLAP_MM = 12.0, 10.0
PAGE_MM = (210.0, 297.0)
# text is laid out in quarters of a millimetre, as on the other sheets
UNIT = 0.25
GAP_MM, MOST_APART_MM, SWATCH_MM = 4.0, 24.0, 16.0
# pictures of what is made: fineness, and from where they are seen (turned, from above)
PICTURE_PX_MM, VIEW_DEG = 9.0, (-27.0, 27.0)
STROKE = {
    "outline": ("ink", 0.5, None), "inside": ("ink", 0.35, None), "section": ("ink", 0.5, None), "hidden": ("quiet", 0.25, [6, 4]),
    "holes": ("oxide", 0.4, None), "tie_holes": ("indigo", 0.4, None), "centre": ("quiet", 0.18, [18, 4, 3, 4]),
    "dimensions": ("ink", 0.2, None), "text": ("ink", 0.2, None), "cut": ("oxide", 0.35, [4, 2]), "marks": ("ink", 0.2, None),
}  # fmt: skip


def print_makers_sheet(job: Job, path: Path, today: date, a: Assessment | None = None) -> None:
    """Write the job as PDF. Raises KeshError when the place cannot be written."""
    write_bytes(path, job_pdf(job, today, a))


def job_pdf(job: Job, today: date, a: Assessment | None = None) -> bytes:
    """The job's pages as PDF. Raises KeshError when they cannot be painted."""
    found: list[bytes] = []
    with paper(job.title, found) as (painter, writer):
        page = JobPages(painter, writer, job, today)
        page.figures(a)
        if job.assembly is not None and len(job.assembly) > 1:
            page.apart()
        for drawing in job.drawings:
            if job.template is None or drawing.title != job.template.title:
                page.drawing(drawing)
        if job.template is not None:
            page.true_size(job.template)
    return found[0]


def column_widths(lines: Sequence[Sequence[str]], wide_mm: float) -> list[float]:
    """Widths of a table's columns, mm, by their longest cells; the widest gives way when all together are too wide."""
    metrics = QFontMetricsF(fonts.text(13))
    wanted = [
        max(metrics.horizontalAdvance(cell) for cell in column) * UNIT + GAP_MM + 1
        for column in zip(*lines, strict=True)
    ]
    spare = wide_mm - sum(wanted)
    if spare >= 0:
        # what is left goes evenly between the columns, but none stands farther off than a reader can follow
        return [w + min(spare / len(wanted), MOST_APART_MM) for w in wanted]
    widest = wanted.index(max(wanted))
    wanted[widest] = max(wanted[widest] + spare, 30.0)
    return wanted


class JobPages:
    """Pages of one job on one painter; each method fills pages of its own."""

    def __init__(self, painter: QPainter, writer: QPdfWriter, job: Job, today: date) -> None:
        self.p, self.writer, self.job, self.today, self.t = painter, writer, job, today, LIGHT
        self.count = 0

    def _page(self, *, wide: bool = False) -> tuple[float, float]:
        """A fresh page; returns its size in mm."""
        size = PAGE_MM[::-1] if wide else PAGE_MM
        self.writer.setPageOrientation(QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait)
        if self.count:
            self.writer.newPage()
        self.count += 1
        self.p.resetTransform()
        self.p.scale(DPI / 25.4, DPI / 25.4)
        self.p.setRenderHint(QPainter.RenderHint.Antialiasing)
        return size

    def _write(
        self, text: str, x: float, y: float, role: str = "ink", *, font: QFont | None = None, align: str = "left"
    ) -> float:
        """One line at x, y in mm; returns its width in mm."""
        self.p.save()
        self.p.scale(UNIT, UNIT)
        wide = words(self.p, self.t, text, x / UNIT, y / UNIT, role, font=font or fonts.text(13), align=align)
        self.p.restore()
        return wide * UNIT

    def _block(self, text: str, x: float, y: float, width: float, role: str = "ink", px: int = 13) -> float:
        """Wrapped words from y on; returns the y below."""
        self.p.save()
        self.p.scale(UNIT, UNIT)
        self.p.setFont(fonts.text(px))
        self.p.setPen(self.t.color(role))
        box = QRectF(x / UNIT, y / UNIT, width / UNIT, 2000)
        used = self.p.boundingRect(box, Qt.TextFlag.TextWordWrap, text)
        self.p.drawText(box, Qt.TextFlag.TextWordWrap, text)
        self.p.restore()
        return y + used.height() * UNIT

    def _head(self, text: str, x: float, y: float, width: float) -> float:
        self._write(text, x, y + 4, font=fonts.book(16, bold=True))
        self.p.setPen(QPen(self.t.color("edge"), 0.2))
        self.p.drawLine(QLineF(x, y + 5.2, x + width, y + 5.2))
        return y + 8.0

    def _foot(self, size: tuple[float, float]) -> None:
        self._write(f"Kesh, {self.today:%-d %B %Y}   {LOCAL}", EDGE_MM, size[1] - 6, "quiet", font=fonts.text(11))
        self._write(str(self.count), size[0] - EDGE_MM, size[1] - 6, "quiet", font=fonts.text(11), align="right")

    def figures(self, a: Assessment | None) -> None:
        """Figures, what to buy, checks and cautions; then steps and tables, over as many pages as they need."""
        job, size = self.job, self._page()
        self._write(job.title, EDGE_MM, 20, font=fonts.book(26))
        half = (size[0] - 2 * EDGE_MM - 8) / 2
        right = EDGE_MM + half + 8
        y = self._head("Figures", EDGE_MM, 26, half)
        for name, value in job.facts:
            self._write(name, EDGE_MM, y + 2.6, "quiet")
            swatch = SWATCH_MM + 3 if name == "Finish, colour" else 0.0
            if swatch:
                self.p.setPen(QPen(self.t.color("edge"), 0.2))
                self.p.setBrush(QColor(job.pot.colour))
                self.p.drawRect(QRectF(EDGE_MM + half - SWATCH_MM, y - 0.2, SWATCH_MM, 9))
            low = self._block(value, EDGE_MM + 34, y - 0.6, half - 34 - swatch)
            y = max(low, y + (10.0 if swatch else 4.6)) + 0.6
        ends = [y]
        y = 26.0
        made = built_of(job) if routes()[job.route].as_made else None
        if made is not None:
            self._made(made, QRectF(right, y, half, 76), f"{routes()[job.route].as_made}, from the left and above")
            y += 84
        elif a is not None:
            self._tree(a, QRectF(right, y, half, 84))
            y += 88
        y = self._head("To buy", right, y, half)
        for item in job.bill:
            self._write(item.text, right + half, y + 2.6, align="right", font=fonts.text(13, bold=True))
            y = self._block(item.what, right, y - 0.6, half - 26)
            if item.note:
                y = self._block(item.note, right, y - 0.4, half - 26, "quiet", 12)
            y += 0.8
        y = max(*ends, y) + 4
        if job.checks:
            y = self._head("Checked", EDGE_MM, y, size[0] - 2 * EDGE_MM)
            for check in job.checks:
                self.p.save()
                self.p.scale(UNIT, UNIT)
                status_mark(self.p, self.t, check.status, (EDGE_MM + 2) / UNIT, (y + 1.5) / UNIT, 10)
                self.p.restore()
                y = self._block(check.text, EDGE_MM + 6, y - 0.4, size[0] - 2 * EDGE_MM - 6) + 0.8
            y += 3
        y = self._cautions(y, size)
        self._lists(y, size)
        self._foot(size)

    def _cautions(self, y: float, size: tuple[float, float]) -> float:
        wide = size[0] - 2 * EDGE_MM
        if not self.job.cautions:
            return y
        y = self._head("With care", EDGE_MM, y, wide)
        for one in self.job.cautions:
            gear = "" if one.gear.startswith("None") else f" Wear: {one.gear.lower()}."
            text = f"{one.hazard}. {one.care}.{gear} Stop: {one.stop[:1].lower()}{one.stop[1:]}."
            y = self._block(text.replace("..", "."), EDGE_MM, y - 0.4, wide) + 1.0
        return y + 3

    def _lists(self, y: float, size: tuple[float, float]) -> None:
        """Steps, then tables; a new page when one is full."""
        wide, floor = size[0] - 2 * EDGE_MM, size[1] - 16

        def room(need: float) -> None:
            nonlocal y
            if y + need > floor:
                self._foot(size)
                self._page()
                y = 16.0

        if self.job.steps:
            room(24)
            y = self._head("Steps", EDGE_MM, y, wide)
        for k, step in enumerate(self.job.steps, start=1):
            room(12)
            self.p.setPen(QPen(self.t.color("ink"), 0.25))
            self.p.setBrush(Qt.BrushStyle.NoBrush)
            self.p.drawRect(QRectF(EDGE_MM, y - 0.2, 3.2, 3.2))
            self._write(str(k), EDGE_MM + 5, y + 2.6, "quiet")
            if step.wait:
                self._write(f"then wait: {step.wait}", size[0] - EDGE_MM, y + 2.6, "ochre", align="right")
            y = self._block(step.text, EDGE_MM + 11, y - 0.6, wide - (58 if step.wait else 11)) + 1.6
        y += 3
        for name, head, rows in self.job.tables:
            if not rows:
                continue
            widths = column_widths((head, *rows), wide)
            tall = 8 + sum(
                max(self._tall(cell, w - GAP_MM) for cell, w in zip(line, widths, strict=True))
                for line in (head, *rows)
            )
            # a table stays together where a page holds it; a longer one never leaves its last row alone
            room(tall if tall < floor - 20 else 30)
            y = self._head(name, EDGE_MM, y, wide)
            for n, line in enumerate((head, *rows)):
                room(14 if n == len(rows) - 1 else 7)
                x, low = EDGE_MM, y + 5.0
                for cell, width in zip(line, widths, strict=True):
                    low = max(
                        low, self._block(cell, x, y - 0.6, width - GAP_MM, "quiet" if line is head else "ink") + 0.6
                    )
                    x += width
                y = low
            y += 3

    def _tall(self, text: str, width: float) -> float:
        """How high a cell's words stand, mm."""
        box = QRectF(0, 0, width / UNIT, 2000)
        used = QFontMetricsF(fonts.text(13)).boundingRect(box, int(Qt.TextFlag.TextWordWrap), text)
        return max(float(used.height()) * UNIT + 0.9, 5.8)

    def _made(self, made: Built, box: QRectF, told: str) -> None:
        """A picture of what is made, as it is seen in the Workshop."""
        fine = PICTURE_PX_MM
        image = made.image(LIGHT, box.width() * fine, box.height() * fine, VIEW_DEG)
        self.p.drawImage(box, image)
        self._write(told, box.right(), box.bottom() + 4, "quiet", align="right", font=fonts.text(12))

    def apart(self) -> None:
        """How the pieces of a print go together: taken apart, with the order in which they are set down."""
        made = built_of(self.job)
        if made is None:
            return
        size = self._page(wide=True)
        self._write(f"{self.job.pot.name}, how the pieces go together", EDGE_MM, 16, font=fonts.book(22))
        told = dict(self.job.facts)
        self._write(
            f"Set down in turn: {told.get('Set down in turn', '')}. Each comes straight down from above.",
            EDGE_MM,
            24,
            "quiet",
        )
        box = QRectF(EDGE_MM, 28, size[0] - 2 * EDGE_MM, size[1] - 48)
        self.p.drawImage(box, made.image(LIGHT, box.width() * PICTURE_PX_MM, box.height() * PICTURE_PX_MM, VIEW_DEG))
        self._foot(size)

    def _tree(self, a: Assessment, box: QRectF) -> None:
        """The tree in the pot, to a round scale."""
        tree, stand = a.case.tree, stand_of(a)
        left, right = stand.reach()
        low = min(0.0, stand.root_top_mm - (tree.measure.drop_mm or 0.0))
        n = scale_for(right - left, stand.top_mm - low, box.width() / UNIT, (box.height() - 10) / UNIT)
        k = 1 / n / UNIT
        self.p.save()
        self.p.scale(UNIT, UNIT)
        foot = QPointF(box.center().x() / UNIT - (left + right) / 2 * k, (box.bottom() - 6) / UNIT + low * k)
        self.p.setPen(QPen(self.t.color("ink"), 1.2))
        self.p.drawLine(QLineF(box.left() / UNIT, foot.y(), box.right() / UNIT, foot.y()))
        draw_composition(self.p, self.t, a, foot, k)
        self.p.restore()
        self._write(
            f"{tree.name} in it, 1 : {n:g}", box.right(), box.bottom(), "quiet", align="right", font=fonts.text(12)
        )

    def drawing(self, drawing: Drawing) -> None:
        """One drawing on a page, the larger way round, to the largest round scale."""
        left, bottom, right, top = drawing.bounds()
        size = self._page(wide=right - left > top - bottom)
        room = (size[0] - 2 * EDGE_MM, size[1] - 2 * EDGE_MM - 16)
        n = scale_for(right - left, top - bottom, room[0] / UNIT, room[1] / UNIT)
        self._write(drawing.title, EDGE_MM, 16, font=fonts.book(22))
        self._write(f"1 : {n:g}   {' '.join(drawing.notes)}", size[0] - EDGE_MM, 16, "quiet", align="right")
        middle = QPointF(size[0] / 2, 20 + room[1] / 2)
        centre = QPointF((left + right) / 2, (bottom + top) / 2)
        self._paint(
            drawing, lambda x, y: QPointF(middle.x() + (x - centre.x()) / n, middle.y() - (y - centre.y()) / n), 1 / n
        )
        self._foot(size)

    def true_size(self, drawing: Drawing) -> None:
        """The drawing 1:1 over as many sheets as it takes, with overlaps and marks to join them by."""
        left, bottom, right, top = drawing.bounds()
        across, up = PAGE_MM[0] - 2 * EDGE_MM, PAGE_MM[1] - 2 * EDGE_MM - 12
        xs, ys = list(_steps(left, right, across)), list(_steps(bottom, top, up))
        for row, y0 in enumerate(reversed(ys)):
            for column, x0 in enumerate(xs):
                self._page()
                frame = QRectF(EDGE_MM, EDGE_MM + 6, across, up)
                name = f"{letters(row)}{column + 1}"
                self._write(
                    f"{drawing.title}   sheet {name} of {len(xs)} × {len(ys)}   print at 100 %",
                    EDGE_MM,
                    EDGE_MM + 2,
                    "quiet",
                )
                self.p.save()
                self.p.setClipRect(frame)

                def place(x: float, y: float, x0: float = x0, y0: float = y0, frame: QRectF = frame) -> QPointF:
                    return QPointF(frame.left() + x - x0, frame.bottom() - (y - y0))

                self._paint(drawing, place, 1.0)
                self.p.restore()
                self._joins(frame, (column > 0, column < len(xs) - 1, row < len(ys) - 1, row > 0))
                self._bar(frame)
                self._foot(PAGE_MM)

    def _joins(self, frame: QRectF, sides: Sequence[bool]) -> None:
        """Crosses where the next sheet is laid over, in the middle of the overlap."""
        left, right, below, above = sides
        self.p.setPen(QPen(self.t.color("ink"), 0.2))
        half = OVERLAP_MM / 2
        xs = [frame.left() + half] * left + [frame.right() - half] * right
        ys = [frame.bottom() - half] * below + [frame.top() + half] * above
        points = [QPointF(x, frame.top() + frame.height() * f) for x in xs for f in (0.2, 0.5, 0.8)]
        points += [QPointF(frame.left() + frame.width() * f, y) for y in ys for f in (0.2, 0.5, 0.8)]
        for at in points:
            self.p.drawLine(QLineF(at.x() - 4, at.y(), at.x() + 4, at.y()))
            self.p.drawLine(QLineF(at.x(), at.y() - 4, at.x(), at.y() + 4))
            self.p.drawEllipse(at, 2.0, 2.0)

    def _bar(self, frame: QRectF) -> None:
        y = frame.bottom() + 3.5
        self.p.setPen(QPen(self.t.color("ink"), 0.4))
        self.p.drawLine(QLineF(frame.left(), y, frame.left() + 100, y))
        for x in (0.0, 50.0, 100.0):
            self.p.drawLine(QLineF(frame.left() + x, y - 1.5, frame.left() + x, y + 1.5))
        self._write("100 mm", frame.left() + 103, y + 1, "quiet")

    def _paint(self, drawing: Drawing, place, k: float) -> None:  # type: ignore[no-untyped-def]
        """Items of a drawing through `place` (mm of the drawing to mm of the page); k is the scale for radii."""
        for item in drawing.items:
            if isinstance(item, Line):
                self._pen(item.layer)
                ring = QPolygonF([place(float(x), float(y)) for x, y in item.points])
                if item.hatched:
                    path = QPainterPath()
                    path.addPolygon(ring)
                    path.closeSubpath()
                    self.p.fillPath(path, self.t.color("oxide_tint"))
                    hatch(self.p, path, self.t.color("oxide"), 1 / UNIT)
                    self._pen(item.layer)
                self.p.setBrush(Qt.BrushStyle.NoBrush)
                self.p.drawPolygon(ring) if item.closed else self.p.drawPolyline(ring)
            elif isinstance(item, Circle):
                self._pen(item.layer)
                self.p.setBrush(Qt.BrushStyle.NoBrush)
                self.p.drawEllipse(place(item.x, item.y), item.radius * k, item.radius * k)
            elif isinstance(item, Dim):
                self._dimension(item, place, k)
            else:
                at = place(item.x, item.y)
                self._write(item.text, at.x(), at.y(), align=item.align, font=fonts.text(_px(item.size * k)))

    def _pen(self, layer: str) -> None:
        role, wide, dashes = STROKE[layer]
        pen = QPen(self.t.color(role), wide)
        if dashes:
            pen.setDashPattern(dashes)
        self.p.setPen(pen)

    def _dimension(self, d: Dim, place, k: float) -> None:  # type: ignore[no-untyped-def]
        a, b = place(d.ax, d.ay), place(d.bx, d.by)
        off = d.away * k
        if d.level:
            y = (min(a.y(), b.y()) if d.away > 0 else max(a.y(), b.y())) - off
            ends = QPointF(a.x(), y), QPointF(b.x(), y)
        else:
            x = (max(a.x(), b.x()) if d.away > 0 else min(a.x(), b.x())) + off
            ends = QPointF(x, a.y()), QPointF(x, b.y())
        self.p.setPen(QPen(self.t.color("ink"), 0.15))
        for from_, to in zip((a, b), ends, strict=True):
            self.p.drawLine(QLineF(from_, to))
            self.p.drawLine(QLineF(to.x() - 0.9, to.y() + 0.9, to.x() + 0.9, to.y() - 0.9))
        self.p.drawLine(QLineF(*ends))
        middle = (ends[0] + ends[1]) / 2
        self.p.save()
        self.p.translate(middle)
        font = fonts.text(_px(d.size * k))
        if d.beside and not d.level:
            self.p.scale(UNIT, UNIT)
            lift = 0.35 * QFontMetricsF(font).ascent() - d.lift_mm * k / UNIT
            words(self.p, self.t, d.text, d.outward * 6, lift, font=font, align="left" if d.outward > 0 else "right")
            self.p.restore()
            return
        if not d.level:
            self.p.rotate(-90)
        self.p.scale(UNIT, UNIT)
        words(self.p, self.t, d.text, 0, -3, font=font, align="center")
        self.p.restore()


def _px(capital_mm: float) -> int:
    """Font size for capitals so high, in quarters of a millimetre, within what can be read."""
    return int(min(max(capital_mm / 0.68 / UNIT, 8), 20))


def _steps(low: float, high: float, room: float) -> Iterator[float]:
    """Where each sheet begins so that neighbours overlap."""
    at = low
    yield at
    while at + room < high - 0.5:
        at += room - OVERLAP_MM
        yield at
