"""The pot in hand: drawn in section and from above, its computed figures, which trees it suits, and every field."""

from functools import partial
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from kesh.errors import KeshError
from kesh.figure.pot_figure import plan_rings
from kesh.model import Pot
from kesh.reference.tables import materials
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.sheet.marks import dimension, status_mark, words
from kesh.ui.sheet.pot_painter import draw_pot, figure_for, hatch
from kesh.ui.sheet.tree_painter import polygon
from kesh.ui.state.lineup import STATES
from kesh.ui.state.shelf import Fact, Suit, facts, hole_words, parse_holes, suits
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit

SIZES = (
    ("length_mm", "Length at the rim"), ("width_mm", "Width at the rim"), ("height_mm", "Height with feet"), ("wall_mm", "Wall"),
    ("floor_mm", "Floor"), ("feet_mm", "Feet"),
)  # fmt: skip
OUTLINES = {
    "rectangle": "rectangle",
    "oval": "oval",
    "round": "round",
    "polygon": "even-sided",
    "lobed": "lobed",
    "free": "free form",
}
PROFILES = {
    "straight": "straight, tapered",
    "tube": "upright",
    "bowed": "bowed",
    "lip": "lip",
    "table": "by table",
    "slab": "slab",
}
FINISHES = {
    "unglazed": "unglazed",
    "muted_glaze": "quiet glaze",
    "bright_glaze": "bright glaze",
    "painted": "painted",
    "as_made": "as made",
}


class PotDrawing(QWidget):
    """Half elevation, half section, and the plan below, at one scale with dimensions."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pot: Pot | None = None
        self.setFixedHeight(fonts.scaled(250))

    def show_pot(self, pot: Pot) -> None:
        """Another pot, or the same one changed."""
        self._pot = pot
        self.setAccessibleName(f"{pot.name} in elevation, section and from above")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        pot, t, u = self._pot, self._session.theme, self._session.units
        if pot is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room_w, room_h = self.width() - 66.0, self.height() - 62.0
        k = min(room_w / pot.length_mm, room_h / (pot.height_mm + pot.width_mm + 16))
        middle, bench = self.width() / 2 - 12, 10 + pot.height_mm * k
        figure = figure_for(pot)
        painter.save()
        painter.translate(middle, bench)
        painter.scale(k, k)
        painter.save()
        painter.setClipRect(QRectF(-pot.length_mm, -pot.height_mm - 20, pot.length_mm, pot.height_mm + 40))
        draw_pot(painter, pot, t, k, shadow=False)
        painter.restore()
        painter.setClipRect(QRectF(0, -pot.height_mm - 20, pot.length_mm, pot.height_mm + 40))
        for ring in (*figure.clay, *figure.feet):
            path = _closed(ring)
            painter.fillPath(path, t.color("oxide_tint"))
            hatch(painter, path, t.color("oxide"), k, gap_px=4)
            painter.setPen(QPen(t.color("ink"), 1.1 / k))
            painter.drawPath(path)
        painter.restore()
        painter.setPen(QPen(t.color("ink"), 1.4))
        painter.drawLine(
            QPointF(middle - pot.length_mm / 2 * k - 10, bench), QPointF(middle + pot.length_mm / 2 * k + 10, bench)
        )
        side = middle + pot.length_mm / 2 * k + 18
        dimension(
            painter,
            t,
            QPointF(side, bench),
            QPointF(side, bench - pot.height_mm * k),
            u.figure(pot.height_mm),
            bold=False,
            side=1,
        )
        below = bench + 17
        a, b = QPointF(middle - pot.length_mm / 2 * k, below), QPointF(middle + pot.length_mm / 2 * k, below)
        dimension(painter, t, a, b, u.figure(pot.length_mm), bold=False)
        self._plan(painter, pot, k, QPointF(middle, below + 16 + pot.width_mm / 2 * k))

    def _plan(self, painter: QPainter, pot: Pot, k: float, at: QPointF) -> None:
        t, u = self._session.theme, self._session.units
        outer, inner = plan_rings(pot)
        painter.save()
        painter.translate(at)
        painter.scale(k, k)
        rim, hollow = _closed(outer), _closed(inner)
        painter.fillPath(rim, t.color("oxide_tint"))
        painter.fillPath(hollow, t.color("panel"))
        painter.setPen(QPen(t.color("ink"), 1.0 / k))
        for path in (rim, hollow):
            painter.drawPath(path)
        for hole in pot.holes:
            painter.setBrush(t.color("field"))
            painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
        painter.restore()
        side = at.x() + pot.length_mm / 2 * k + 18
        half = pot.width_mm / 2 * k
        dimension(
            painter,
            t,
            QPointF(side, at.y() + half),
            QPointF(side, at.y() - half),
            u.figure(pot.width_mm),
            bold=False,
            side=1,
        )
        words(
            painter, t, "front", at.x(), at.y() + half + 14, "quiet", font=fonts.book(13, italic=True), align="center"
        )


def _closed(ring: Any) -> Any:
    from PyQt6.QtGui import QPainterPath

    path = QPainterPath()
    path.addPolygon(polygon(ring))
    path.closeSubpath()
    return path


class FactList(QWidget):
    """Computed figures, one a line, with a mark where one is judged."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._facts: tuple[Fact, ...] = ()

    def show_facts(self, found: tuple[Fact, ...]) -> None:
        """Other figures."""
        self._facts = found
        self.setFixedHeight(fonts.scaled(21) * len(found) + 4)
        self.setAccessibleName("; ".join(f"{f.words} {f.value}" for f in found))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, each = self._session.theme, fonts.scaled(21)
        for i, fact in enumerate(self._facts):
            y = each * (i + 1) - 6.0
            if fact.status:
                status_mark(painter, t, fact.status, 6, y - 4.5, 10)
            words(painter, t, fact.words, 20, y, font=fonts.text(14))
            words(painter, t, fact.value, self.width(), y, font=fonts.text(14, bold=True), align="right")


class ShelfPanel(Panel):
    """Every field of the pot in hand; each edit is written at once."""

    tree_wanted = pyqtSignal(str)
    hold = pyqtSignal(str)

    def __init__(self, session: Session, runner: Runner) -> None:
        super().__init__(session)
        self._runner = runner
        self.pot_id = ""
        self.head, self.note = title(""), quiet("")
        self.drawing, self.figures = PotDrawing(session), FactList(session)
        for widget in (self.head, self.note, self.drawing, self.figures):
            self.column.addWidget(widget)
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Would suit", "best first"))
        holder = QWidget()
        self._suits = QVBoxLayout(holder)
        self._suits.setContentsMargins(0, 0, 0, 0)
        self._suits.setSpacing(1)
        self.column.addWidget(holder)
        self.gap()
        self.column.addWidget(SectionHead(session, "Sizes", "outer"))
        self.fields: dict[str, MeasureEdit] = {}
        for name, label in SIZES:
            self._length(name, label, lambda value, n=name: {n: value})
        self.outline, self.profile = Choice(OUTLINES, "Outline from above"), Choice(PROFILES, "Wall")
        self.outline.chosen.connect(self._outline)
        self.profile.chosen.connect(lambda kind: self._nested("profile", "kind", kind))
        self.column.addWidget(row("Outline", self.outline))
        self._nested_length("outline", "corner_mm", "Corner radius")
        self.column.addWidget(row("Wall", self.profile))
        self._nested_length("profile", "base_inset_mm", "Foot stands in by")
        self._nested_length("profile", "belly_mm", "Belly")
        self._nested_length("profile", "lip_offset_mm", "Lip out +, in −")
        self.gap()
        self.column.addWidget(SectionHead(session, "Card"))
        self.name, self.holes, self.price, self.colour, self.defects, self.source = (QLineEdit() for _ in range(6))
        self.volume, self.mass = QLineEdit(), QLineEdit()
        self.material = Choice(
            {k: m.name for k, m in sorted(materials().items(), key=lambda kv: kv[1].name)}, "Material"
        )
        self.finish, self.state = Choice(FINISHES, "Finish"), Choice(STATES, "Where it is")
        self.material.chosen.connect(lambda key: self._set(material=key))
        self.finish.chosen.connect(lambda key: self._set(finish=key))
        self.state.chosen.connect(lambda key: self._set(state=key))
        for label, field in (
            ("Name", self.name), ("Material", self.material), ("Finish", self.finish), ("Colour, #rrggbb", self.colour),
            ("Where it is", self.state), ("Holes: x y diameter;", self.holes), ("Water it holds, l", self.volume),
            ("Weighed, kg", self.mass), ("Price", self.price), ("Made or given by", self.source), ("Defects", self.defects),
        ):  # fmt: skip
            if isinstance(field, QLineEdit):
                field.setFixedWidth(fonts.scaled(126))
            self.column.addWidget(row(label, field))
        self.name.editingFinished.connect(lambda: self._text("name", self.name))
        self.colour.editingFinished.connect(lambda: self._text("colour", self.colour))
        self.defects.editingFinished.connect(lambda: self._text("defects", self.defects))
        self.source.editingFinished.connect(lambda: self._text("source", self.source))
        self.holes.editingFinished.connect(self._holes)
        self.volume.editingFinished.connect(lambda: self._number("measured_volume_l", self.volume))
        self.mass.editingFinished.connect(lambda: self._number("measured_mass_kg", self.mass))
        self.price.editingFinished.connect(lambda: self._number("price", self.price))
        self.problems = quiet("")
        self.column.addWidget(self.problems)
        self.main = button("Hold it under the tree", lambda: self.hold.emit(self.pot_id), main=True)
        self.foot.addWidget(self.main)

    def _length(self, name: str, label: str, make: Any) -> None:
        field = MeasureEdit(self.session, label, optional=False)
        field.entered.connect(lambda value, m=make: self._set(**m(value)))
        self.fields[name] = field
        self.column.addWidget(row(label, field))

    def _nested_length(self, part: str, name: str, label: str) -> None:
        field = MeasureEdit(self.session, label, optional=False)
        field.entered.connect(lambda value: self._nested(part, name, value))
        self.fields[name] = field
        self.column.addWidget(row(label, field))

    @property
    def pot(self) -> Pot | None:
        """The pot in hand."""
        return self.session.collection.pots.get(self.pot_id)

    def _set(self, **fields: Any) -> None:
        pot = self.pot
        if pot is None:
            return
        if pot.outline.kind == "round" and ("length_mm" in fields or "width_mm" in fields):
            size = fields.get("length_mm", fields.get("width_mm"))
            fields |= {"length_mm": size, "width_mm": size}
        try:
            changed = pot.changed(**fields)
            facts(changed, self.session.units)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
            return
        if changed != pot:
            what = ", ".join(fields).replace("_mm", "").replace("_", " ")
            self.session.edit(f"{pot.name}: {what} changed", [("pot", pot.id, changed)])

    def _nested(self, part: str, name: str, value: Any) -> None:
        pot = self.pot
        if pot is None:
            return
        try:
            inner = getattr(pot, part).changed(**{name: value})
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
            return
        self._set(**{part: inner})

    def _outline(self, kind: str) -> None:
        pot = self.pot
        if pot is None:
            return
        if kind == "free" and not pot.outline.points_mm:
            self.session.said.emit("watch", "A free outline needs its points; bring it in with a bundle")
            self.refresh()
            return
        fields: dict[str, Any] = {"outline": pot.outline.changed(kind=kind)}
        if kind == "round":
            fields["width_mm"] = pot.length_mm
        self._set(**fields)

    def _text(self, name: str, field: QLineEdit) -> None:
        pot = self.pot
        if pot is not None and field.text().strip() != getattr(pot, name):
            self._set(**{name: field.text().strip()})

    def _number(self, name: str, field: QLineEdit) -> None:
        text = field.text().strip().replace(",", ".")
        try:
            value = float(text) if text else None
        except ValueError:
            self.session.said.emit("no", f"'{text}' is no number; write one, such as 4.6")
            return
        if self.pot is not None and value != getattr(self.pot, name):
            self._set(**{name: value})

    def _holes(self) -> None:
        pot, text = self.pot, self.holes.text().strip()
        if pot is None or text == ("?" if not pot.holes_known else hole_words(pot.holes)):
            return
        try:
            known = text != "?"
            self._set(holes=parse_holes(text) if known else (), holes_known=known)
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def show_pot(self, key: str) -> None:
        """Another pot is in hand."""
        self.pot_id = key
        self.refresh()
        self._ask_suits()

    def refresh(self) -> None:
        """Show the pot in hand."""
        pot = self.pot
        self.setEnabled(pot is not None)
        if pot is None:
            self.head.setText("No pot in hand")
            self.note.setText("Choose one, or add one with Ctrl+Shift+N.")
            return
        self.head.setText(pot.name)
        self.note.setText(pot.defects or pot.notes or f"{STATES[pot.state]}. Left: from the front; right: cut.")
        self.drawing.show_pot(pot)
        try:
            self.figures.show_facts(facts(pot, self.session.units))
        except KeshError as err:
            self.note.setText(str(err))
        for name, field in self.fields.items():
            source = (
                pot.outline
                if name == "corner_mm"
                else pot.profile
                if name in ("base_inset_mm", "belly_mm", "lip_offset_mm")
                else pot
            )
            field.show_mm(getattr(source, name))
            parent = field.parentWidget()
            if parent is not None:
                parent.setVisible(_matters(pot, name))
        self.outline.show_key(pot.outline.kind)
        self.profile.show_key(pot.profile.kind)
        self.material.show_key(pot.material)
        self.finish.show_key(pot.finish)
        self.state.show_key(pot.state)
        texts = {
            self.name: pot.name, self.colour: pot.colour, self.defects: pot.defects, self.source: pot.source,
            self.holes: hole_words(pot.holes) if pot.holes_known else "?",
            self.volume: f"{pot.measured_volume_l:g}" if pot.measured_volume_l else "",
            self.mass: f"{pot.measured_mass_kg:g}" if pot.measured_mass_kg else "", self.price: f"{pot.price:g}" if pot.price is not None else "",
        }  # fmt: skip
        for line, text in texts.items():
            if not line.hasFocus():
                line.setText(text)
                line.setCursorPosition(0)
        tree = self.session.tree
        self.main.setText(f"Hold it under {tree.name}" if tree else "Add a tree first")
        self.main.setEnabled(tree is not None)

    def _ask_suits(self) -> None:
        collection, pot, today, units = self.session.collection, self.pot, self.session.today, self.session.units
        if pot is not None and collection.trees:
            self._runner.start("suits", lambda: suits(collection, pot, today, units), self._show_suits)
        else:
            self._show_suits(())

    def _show_suits(self, found: tuple[Suit, ...]) -> None:
        while (item := self._suits.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.deleteLater()
        for suit in found:
            made = button(elided(f"{suit.name}: {suit.reason}"), partial(self.tree_wanted.emit, suit.tree), link=True)
            made.setToolTip(f"{suit.name}: {suit.reason}. See it under this tree")
            made.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            self._suits.addWidget(MarkedLine(self.session, suit.verdict, made))
        if not found:
            self._suits.addWidget(quiet("No tree yet to try it under."))


def elided(text: str, most: int = 40) -> str:
    """A text that fits a line of the panel."""
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


class MarkedLine(QWidget):
    """A status mark before a link."""

    def __init__(self, session: Session, status: str, link: QWidget) -> None:
        super().__init__()
        self._session, self._status = session, status
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 0, 0, 0)
        column.addWidget(link)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        status_mark(painter, self._session.theme, self._status, 6, self.height() / 2, 10)


def _matters(pot: Pot, name: str) -> bool:
    """Whether a field means anything for this outline and wall."""
    kind = pot.profile.kind
    return {
        "corner_mm": pot.outline.kind in ("rectangle", "polygon"), "base_inset_mm": kind in ("straight", "bowed", "lip"),
        "belly_mm": kind == "bowed", "lip_offset_mm": kind == "lip", "width_mm": pot.outline.kind != "round",
        "wall_mm": kind != "slab", "floor_mm": kind != "slab",
    }.get(name, True)  # fmt: skip
