"""A pot of one's own in three sizes: outlines as drawings, or the water it holds; drawn to scale while it is typed."""

from dataclasses import replace

from PyQt6.QtCore import QLineF, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.base.words import comma_and
from kesh.desk.first import CUP_MM, OUTLINES, FirstPot
from kesh.desk.shelf import Fact, facts
from kesh.figure.pot_figure import plan_rings
from kesh.reference.tables import material
from kesh.ui.paint.paths import path_of
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.facts import FactList
from kesh.ui.widgets.fields import MassEdit, MeasureEdit
from kesh.ui.widgets.ghost import Ghost
from kesh.ui.widgets.style_strip import OutlineStrip

# what three sizes from outside can say at all
SAID = ("Inside, to the rim", "Depth inside", "Measured by water")


class PotGhost(Ghost):
    """The pot that is meant, from the front and from above: rim, height and width are dragged."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "The pot to scale; drag its rim, its height and its width")
        self.first = FirstPot()

    @property
    def px_mm(self) -> float:
        """So that front and plan fill the view with room to grow."""
        pot = self.first.ghost()
        wide = 1.35 * pot.length_mm + 1.2 * CUP_MM
        high = 1.25 * (max(pot.height_mm, 1.2 * CUP_MM) + pot.width_mm)
        return min((self.width() - 130) / wide, (self.height() - 70) / high)

    def foot(self) -> QPointF:
        pot, k = self.first.ghost(), self.px_mm
        spare = self.height() - 70 - (max(pot.height_mm, CUP_MM) + pot.width_mm) * k
        return QPointF(self.width() * 0.6, self.height() - 46 - pot.width_mm * k - 0.6 * max(spare, 0.0))

    def _plan_middle(self) -> QPointF:
        return self.foot() + QPointF(0, 26 + self.first.ghost().width_mm / 2 * self.px_mm)

    def grips(self) -> dict[str, QPointF]:
        pot, foot, k = self.first.ghost(), self.foot(), self.px_mm
        half, rim, below = pot.length_mm / 2 * k, foot.y() - pot.height_mm * k, self._plan_middle()
        found = {"length_mm": QPointF(foot.x() + half, rim), "height_mm": QPointF(foot.x() - half - 22, rim)}
        if not self.first.equal_sides:
            found["width_mm"] = below + QPointF(0, pot.width_mm / 2 * k)
        return found

    def mm_at(self, key: str, at: QPointF) -> float:
        foot, k = self.foot(), self.px_mm
        mm = {
            "length_mm": 2 * (at.x() - foot.x()) / k,
            "height_mm": (foot.y() - at.y()) / k,
            "width_mm": 2 * (at.y() - self._plan_middle().y()) / k,
        }[key]
        return float(min(max(round(mm), 15), 2000))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        pot, foot, k, u, t = (self.first.ghost(), self.foot(), self.px_mm, self._session.units, self._session.theme)
        painter = self.begin(event, max(1.3 * pot.height_mm, CUP_MM))
        painter.setOpacity(0.55 if self.first.missing else 1.0)
        painter.save()
        painter.translate(foot)
        painter.scale(k, k)
        draw_pot(painter, pot, t, k)
        painter.restore()
        painter.save()
        painter.translate(self._plan_middle())
        painter.scale(k, k)
        outer, inner = (path_of(ring) for ring in plan_rings(pot))
        painter.fillPath(outer, t.color("oxide_tint"))
        painter.fillPath(inner, t.color("panel"))
        painter.setPen(QPen(t.color("ink"), 1.0 / k))
        for path in (outer, inner):
            painter.drawPath(path)
        painter.restore()
        painter.setOpacity(1.0)
        grips, first = self.grips(), self.first
        self.cup(painter, grips["height_mm"].x() - 14)
        up = grips["height_mm"]
        self.grip(painter, "height_mm", u.figure(pot.height_mm), known=bool(first.height_mm),
                  line=QLineF(up.x(), up.y(), up.x(), foot.y()))  # fmt: skip
        self.grip(painter, "length_mm", u.figure(pot.length_mm), known=bool(first.length_mm))
        if "width_mm" in grips:
            self.grip(painter, "width_mm", u.figure(pot.width_mm), known=bool(first.width_mm))


class FirstPotCard(QWidget):
    """Nothing is written before it is put on the shelf."""

    stand = pyqtSignal(object)
    bring = pyqtSignal()
    photo = pyqtSignal()
    leave = pyqtSignal()
    turned = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.first = FirstPot()
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(8)
        head = QHBoxLayout()
        head.addWidget(title("A pot: its outline and three sizes", 21), 1)
        note = quiet("outer sizes, at the rim")
        note.setWordWrap(False)
        head.addWidget(note)
        column.addLayout(head)
        self.outlines = OutlineStrip(session, OUTLINES)
        self.outlines.show_key(self.first.outline)
        column.addWidget(self.outlines)
        middle = QHBoxLayout()
        middle.setSpacing(18)
        left = QVBoxLayout()
        self.length, self.width_, self.height_ = (
            MeasureEdit(session, n) for n in ("Length", "Width", "Height with feet")
        )
        self.water = MassEdit(session, "Water it holds, weighed")
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the pot")
        self.name.setFixedWidth(fonts.scaled(150))
        self.width_row = row("Width at the rim", self.width_)
        for part in (row("Length at the rim", self.length), self.width_row, row("Height with feet", self.height_)):
            left.addWidget(part)
        left.addWidget(
            row(
                "Water it holds",
                self.water,
                tip="Close the holes, fill it to the rim, weigh it full less empty: a kilogram is a litre.",
            )
        )
        left.addWidget(row("Name, if you like", self.name))
        self.said = quiet("")
        left.addWidget(self.said)
        left.addStretch(1)
        holder = QWidget()
        holder.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        holder.setFixedWidth(fonts.scaled(300))
        self.ghost = PotGhost(session)
        middle.addWidget(holder)
        middle.addWidget(self.ghost, 1)
        column.addLayout(middle, 1)
        foot = QHBoxLayout()
        self.way = button("Bring in a list of pots", self.bring.emit, link=True, tip="A table as you keep it (Ctrl+I)")
        self.back = button("Leave it", self.leave.emit, link=True)
        foot.addWidget(self.way)
        self.by_photo = button("From its photograph", self.photo.emit, link=True, tip="Ctrl+Shift+K")
        foot.addWidget(self.by_photo)
        foot.addWidget(self.back)
        foot.addStretch(1)
        self.main = button("Put it on the shelf", self.put, main=True)
        foot.addWidget(self.main)
        column.addLayout(foot)
        self.outlines.chosen.connect(lambda key: self._say(outline=key))
        self.length.entered.connect(lambda mm: self._say(length_mm=mm))
        self.width_.entered.connect(lambda mm: self._say(width_mm=mm))
        self.height_.entered.connect(lambda mm: self._say(height_mm=mm))
        self.water.entered.connect(lambda kg: self._say(water_kg=kg or None))
        self.name.textChanged.connect(lambda text: self._say(name=text))
        for field in (self.length, self.width_, self.height_, self.water, self.name):
            field.returnPressed.connect(self._next)
        self.ghost.sized.connect(self._dragged)
        self.begin(empty=True)

    def begin(self, *, empty: bool) -> None:
        """A blank card."""
        self.first = FirstPot()
        for field in (self.length, self.width_, self.height_):
            field.clear()
            field.show_mm(None)
        self.water.clear()
        self.water.show_kg(None)
        self.name.clear()
        self.outlines.show_key(self.first.outline)
        self.back.setVisible(not empty)
        self._say()

    def _say(self, **fields: object) -> None:
        self.first = replace(self.first, **fields)  # type: ignore[arg-type]
        self.width_row.setVisible(not self.first.equal_sides)
        fault = self.first.fault
        self.main.setEnabled(not self.first.missing and not fault)
        self.ghost.first = self.first
        self.ghost.update()
        missing = self.first.missing
        self.said.setText(fault or (f"{comma_and(missing).capitalize()} would let it stand." if missing else ""))
        self.turned.emit()

    def _dragged(self, key: str, mm: float) -> None:
        field = {"length_mm": self.length, "width_mm": self.width_, "height_mm": self.height_}[key]
        field.show_mm(mm)
        self._say(**{key: mm})

    def _next(self) -> None:
        order = [
            (self.length, self.first.length_mm),
            (self.width_, self.first.width_mm),
            (self.height_, self.first.height_mm),
        ]
        if self.first.equal_sides or self.first.outline == "hexagon":
            order.pop(1)
        field = next((f for f, value in order if value is None), None)
        if field is not None:
            field.setFocus()
        else:
            self.put()

    def put(self) -> None:
        """On the shelf, where nothing is missing."""
        if not self.first.missing:
            self.stand.emit(self.first)


class FirstPotPanel(Panel):
    """What the three sizes already say, what is taken as usual, and what would settle it."""

    def __init__(self, session: Session, card: FirstPotCard) -> None:
        super().__init__(session)
        self._card = card
        self.column.addWidget(title("What three sizes say"))
        self.note, self.figures = quiet(""), FactList(session)
        self.column.addWidget(self.note)
        self.column.addWidget(self.figures)
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Taken as usual", "until measured"))
        self.usual = FactList(session)
        self.column.addWidget(self.usual)
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Or weigh its water"))
        self.column.addWidget(quiet("Close the holes, fill it to the rim, weigh it full and empty: one kilogram is one litre. That is better than any sum from outside."))  # fmt: skip
        card.turned.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the card."""
        first, u = self._card.first, self.session.units
        try:
            pot = first.ghost()
            self.note.setText("With the sizes that carry a question mark." if first.missing else "")
            self.figures.show_facts(tuple(f for f in facts(pot, u) if f.words in SAID))
            usual = (("Wall", pot.wall_mm), ("Floor", pot.floor_mm), ("Feet", pot.feet_mm))
            clay = Fact("Material", material(pot.material).name, "unknown")
            self.usual.show_facts((*(Fact(words, u.mm(mm), "unknown") for words, mm in usual), clay))
        except KeshError as err:
            self.note.setText(str(err))
