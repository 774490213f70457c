"""The Brief step's sheet: the tree with its ghost at the horizon, and every band with the present pot on it."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen, QPolygonF

from kesh.desk.bench import Stand
from kesh.desk.brief import BandRow, band_rows, band_words, later, shape_advice, show
from kesh.science.season.growth import grown
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.marks import band_bar, dimension, ruler, status_mark, words
from kesh.ui.paint.scene import SEATED_MM, draw_planted
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE

FOOT_PX = 138


class BriefSheet(SheetView):
    """Left the tree, right the bands, below the shape."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.setAccessibleName("Wanted sizes by school beside the tree, to scale")

    @property
    def _split(self) -> float:
        return self.width() * 0.50

    def margins(self) -> tuple[int, int, int, int]:
        return 76, 84, int(self.width() - self._split) + 44, FOOT_PX + 66

    def extent_mm(self) -> QRectF:
        tree = self.session.tree
        if tree is None or tree.measure.height_mm is None:
            return super().extent_mm()
        then = tree.changed(measures=(grown(tree.measure, tree.stage, self.session.brief.horizon_years),))
        stand = Stand(then, self.session.pot, self.session.planting)
        left, right = stand.reach()
        low = min(0.0, stand.root_top_mm - (then.measure.drop_mm or 0.0))
        return QRectF(left, low, right - left, stand.top_mm - low)

    def paint(self, painter: QPainter) -> None:
        if self.session.tree is None:
            self.empty(
                painter,
                "No tree yet. Add one, then write what its next pot must do.",
                action=("Add a tree", "new_tree"),
            )
            return
        self._tree(painter)
        case = self.session.case(self.session.pot.id if self.session.pot else None)
        rows = band_rows(case, self.session.assessment())
        self._bands(painter, rows)
        self._shape(painter)

    def _tree(self, painter: QPainter) -> None:
        t, u, s = self.session.theme, self.session.units, self.session
        tree, pot, planting = s.tree, s.pot, s.planting
        assert tree is not None
        case = s.case(pot.id if pot else None)
        stand, foot = Stand(tree, pot, planting), self.px(0, 0)
        box = self.extent_mm()
        left, right = self.px(box.left(), 0).x() - 16, self.px(box.right(), 0).x() + 16
        self._wanted(painter, foot)
        self.ground(painter, left, right, foot.y())
        ruler(
            painter,
            t,
            34,
            foot.y(),
            self.px_mm,
            min(box.bottom() + 10, (foot.y() - 40) / self.px_mm),
            unit=self.session.units.length,
        )
        then = tree.changed(measures=(grown(tree.measure, tree.stage, s.brief.horizon_years),))
        view = view_of(then, case.species, t, self.px_mm, 1.0)
        outline = self.gallery.outline(view.sitter) if view is not None and s.brief.horizon_years > 0 else None
        if outline is not None:
            at = self.px(stand.trunk_x_mm, stand.root_top_mm - SEATED_MM)
            painter.save()
            painter.translate(at)
            painter.scale(self.px_mm, self.px_mm)
            pen = QPen(t.color("moss"), 1.0 / self.px_mm)
            pen.setDashPattern([4, 3])
            painter.setPen(pen)
            painter.setBrush(t.color("moss_tint", 0.55))
            painter.drawPath(outline)
            painter.restore()
        draw_planted(
            painter, self.gallery, t, tree, case.species, pot, planting, foot, self.px_mm, hurry=self.session.dragging
        )
        for i, (when, high, wide, trunk) in enumerate(later(case)):
            role = "moss" if i == 2 else "quiet"
            line = f"{u.figure(high)} high, {u.figure(wide)} wide, trunk {u.figure(trunk)}"
            words(painter, t, when, 18, 30 + 17 * i, role, font=fonts.text(13, bold=i == 2))
            words(painter, t, line, 96, 30 + 17 * i, role, font=fonts.text(13))
        if pot is not None:
            below = foot.y() + 22
            dimension(
                painter,
                t,
                self.px(-pot.length_mm / 2, 0) + QPointF(0, 22),
                self.px(pot.length_mm / 2, 0) + QPointF(0, 22),
                f"present {u.figure(pot.length_mm)}",
            )
            band = case.bands.length
            if band.low is not None and band.high is not None:
                words(
                    painter,
                    t,
                    f"wanted {u.band(band.low, band.high)}",
                    foot.x(),
                    below + 24,
                    "moss",
                    font=fonts.text(13, bold=True),
                    align="center",
                )

    def _wanted(self, painter: QPainter, foot: QPointF) -> None:
        t, pot = self.session.theme, self.session.pot
        case = self.session.case(pot.id if pot else None)
        length, depth = case.bands.length, case.bands.depth
        if length.low is None or length.high is None or depth.low is None or depth.high is None:
            return
        wall = (pot.floor_mm + pot.feet_mm) if pot else 16.0
        for wide, deep, role in ((length.high, depth.high, "moss_tint"), (length.low, depth.low, "sheet")):
            box = QRectF(
                foot.x() - wide / 2 * self.px_mm,
                foot.y() - (deep + wall) * self.px_mm,
                wide * self.px_mm,
                (deep + wall) * self.px_mm,
            )
            painter.fillRect(box, t.color(role))
            pen = QPen(t.color("moss"), 1)
            pen.setDashPattern([4, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)

    def _bands(self, painter: QPainter, rows: tuple[BandRow, ...]) -> None:
        t, u = self.session.theme, self.session.units
        left, right = self._split + 12, self.width() - 22.0
        y = 62.0
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(left, y), "Schools side by side")
        words(painter, t, "▼ present pot", right, y, "quiet", font=fonts.text(13), align="right")
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(left, y + 6, right, y + 6))
        room = self.height() - FOOT_PX - y - 20
        each = min(112.0, room / len(rows))
        schools = len(rows[0].schools)
        line = (each - 32) / schools
        for i, row in enumerate(rows):
            top = y + 10 + i * each
            self._band_head(painter, row, left, right, top + 15)
            for k, school in enumerate(row.schools):
                middle = top + 24 + (k + 0.5) * line
                words(
                    painter,
                    t,
                    school.school,
                    left,
                    middle + 4,
                    "ink" if school.judges else "quiet",
                    font=fonts.text(12, bold=school.judges),
                )
                box = QRectF(left + 92, middle - 8, right - left - 92, 16)
                band_bar(
                    painter,
                    t,
                    box,
                    school.band.low,
                    school.band.high,
                    None,
                    row.span,
                    hatched=not school.judges,
                    strong=school.judges,
                )
            if row.present is not None:
                self._plumb(painter, row, left + 92, right, top + 24, top + 24 + schools * line)
            gap = row.apart()
            if gap and each > 84:
                words(
                    painter,
                    t,
                    f"{gap[0]} {show(gap[1], row.unit, u)} apart",
                    right,
                    top + each - 3,
                    "ochre",
                    align="right",
                )

    def _band_head(self, painter: QPainter, row: BandRow, left: float, right: float, y: float) -> None:
        t, u = self.session.theme, self.session.units
        wide = words(painter, t, row.words, left, y, "ink", font=fonts.text(14, bold=True))
        words(
            painter, t, band_words(row.judge, u), left + max(wide + 12, 92), y, "moss", font=fonts.text(14, bold=True)
        )
        if row.present is None:
            status_mark(painter, t, "unknown", right - 84, y - 5, 10)
            words(painter, t, "no pot yet", right, y, "quiet", align="right", font=fonts.text(13))
            return
        text = show(row.present, row.unit, u)
        font = fonts.text(14, bold=True)
        words(
            painter,
            t,
            text,
            right,
            y,
            "ink" if row.status == "fits" else STATUS_ROLE[row.status],
            font=font,
            align="right",
        )
        status_mark(painter, t, row.status, right - QFontMetricsF(font).horizontalAdvance(text) - 12, y - 5, 10)

    def _plumb(self, painter: QPainter, row: BandRow, left: float, right: float, top: float, bottom: float) -> None:
        t, (low, high) = self.session.theme, row.span
        assert row.present is not None
        x = left + (right - left) * (row.present - low) / (high - low)
        color = t.color("oxide" if row.inside is False else "ink")
        painter.setPen(QPen(color, 1.3))
        painter.drawLine(QLineF(x, top - 2, x, bottom))
        painter.setBrush(color)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 4.5, top - 7), QPointF(x + 4.5, top - 7), QPointF(x, top)]))

    def _shape(self, painter: QPainter) -> None:
        t, pot = self.session.theme, self.session.pot
        case = self.session.case(pot.id if pot else None)
        y, left, right = self.height() - FOOT_PX + 14, 18.0, self.width() - 22.0
        painter.setPen(QPen(t.color("edge"), 1.2))
        painter.drawLine(QLineF(left, y, right, y))
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(left, y + 22), "Shape and finish")
        stand_in = " (classical row: this school has none for the style)" if case.bands.stand_in else ""
        words(
            painter,
            t,
            f"usual in the {case.school.name.lower()} school{stand_in}; custom, not rule",
            left + 140,
            y + 22,
            "quiet",
            font=fonts.text(13),
        )
        lines = shape_advice(case, pot)
        each = (right - left) / len(lines)
        for i, line in enumerate(lines):
            x = left + i * each
            if i:
                painter.setPen(QPen(t.color("rule"), 1))
                painter.drawLine(QLineF(x - 8, y + 34, x - 8, y + 104))
            words(painter, t, line.head, x, y + 46, "quiet", font=fonts.text(13))
            self._wrapped(painter, line.asked.capitalize(), QRectF(x, y + 51, each - 16, 36), bold=True)
            self._wrapped(painter, line.why, QRectF(x, y + 86, each - 16, 34), bold=False)

    def _wrapped(self, painter: QPainter, text: str, box: QRectF, *, bold: bool) -> None:
        painter.setFont(fonts.text(13 if bold else 12, bold=bold))
        painter.setPen(self.session.theme.color("ink" if bold else "quiet"))
        painter.drawText(box, Qt.TextFlag.TextWordWrap, text)
