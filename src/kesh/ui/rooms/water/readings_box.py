"""Readings by stick, probe or weight: what this pot's own speed is, when to look next, and the same for the whole bench."""

from datetime import datetime, time
from math import exp, log

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from kesh.advice.case import case_for
from kesh.advice.water.readings import Readings
from kesh.base.errors import KeshError
from kesh.desk.readings import (
    KIND_WORDS,
    STICK_WORDS,
    NextLook,
    next_looks,
    reading_of,
    readings_for,
    value_words,
    when_words,
)
from kesh.devices.protocol import Taken
from kesh.science.water.readings import PRIOR_SD, Z80
from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row
from kesh.ui.widgets.folded import Folded

UNITS = {"probe": {"%": "%", "share": "share"}, "weight": {"kg": "kg", "g": "g", "lb": "lb"}}


class FactorBar(QWidget):
    """The pot's factor on a scale of times: what was thought before, what readings leave, each reading as a ring."""

    LOW, HIGH = 0.4, 2.5

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.readings: Readings | None = None
        self.setFixedHeight(fonts.scaled(50))

    def show_readings(self, readings: Readings | None) -> None:
        """Show others."""
        self.readings = readings
        self.setAccessibleName("How fast this pot dries, by its readings")
        self.setAccessibleDescription(readings.factor.words if readings else "")
        self.update()

    def _x(self, factor: float) -> float:
        share = (log(min(max(factor, self.LOW), self.HIGH)) - log(self.LOW)) / (log(self.HIGH) - log(self.LOW))
        return 6 + share * (self.width() - 12)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, high = fonts.scaled(18), fonts.scaled(12)
        spread = exp(Z80 * PRIOR_SD)
        painter.fillRect(QRectF(self._x(1 / spread), y, self._x(spread) - self._x(1 / spread), high), t.color("rule"))
        if self.readings is not None and self.readings.factor.count:
            f = self.readings.factor
            painter.fillRect(QRectF(self._x(f.low), y, self._x(f.high) - self._x(f.low), high), t.color("indigo_tint"))
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawLine(QLineF(self._x(f.factor), y - 3, self._x(f.factor), y + high + 3))
            words(
                painter,
                t,
                f"{f.factor:.1f} ×",
                self._x(f.factor),
                y - 5,
                "indigo",
                font=fonts.text(12, bold=True),
                align="center",
            )
            painter.setPen(QPen(t.color("ink"), 1.2))
            painter.setBrush(t.color("panel"))
            for r in self.readings.read:
                if r.factor is not None:
                    painter.drawEllipse(QPointF(self._x(r.factor), y + high / 2), 3.6, 3.6)
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(6, y + high, self.width() - 6, y + high))
        for mark in (0.5, 0.7, 1.0, 1.4, 2.0):
            painter.drawLine(QLineF(self._x(mark), y + high, self._x(mark), y + high + 4))
            words(
                painter,
                t,
                f"{mark:g}",
                self._x(mark),
                y + high + fonts.scaled(16),
                "quiet",
                font=fonts.text(11),
                align="center",
            )


class ReadingsBox(QWidget):
    """Each reading is written at once and can be undone."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._tree = session, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head, self.told, self.bar, self.next = (
            SectionHead(session, "Readings"),
            quiet(""),
            FactorBar(session),
            quiet(""),
        )
        self.kind = Choice(KIND_WORDS, "How it was read")
        self.kind.chosen.connect(lambda _: self._kinds())
        self.stick, self.value, self.unit = (
            Choice(STICK_WORDS, "What the stick says"),
            QLineEdit(),
            Choice(UNITS["probe"], "Unit"),
        )
        self.value.setFixedWidth(fonts.scaled(56))
        self.value.setAccessibleName("What it shows")
        self.unit.setMinimumContentsLength(3)
        figure = QWidget()
        line = row("", self.value, self.unit)
        inner = QVBoxLayout(figure)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(line)
        self.what = QStackedWidget()
        self.what.addWidget(self.stick)
        self.what.addWidget(figure)
        self.what.setFixedHeight(fonts.scaled(30))
        self.at, self.full = QLineEdit(), QLineEdit()
        for field, name in ((self.at, "Read at"), (self.full, "Last full")):
            field.setFixedWidth(fonts.scaled(134))
            field.setAccessibleName(name)
            field.setPlaceholderText("2026-07-10 08:00")
        self.write = button("Write it down", self.write_down)
        self.entry = Folded("Write a reading down", "By stick, probe or weight")
        for made in (
            row("Read", self.kind), self.what, row("At", self.at),
            row("Last full", self.full, tip="When it was last watered through; without it only the water left is told."), self.write,
        ):  # fmt: skip
            self.entry.add(made)
        self.entry.show_needed(False)
        self.bench = Folded("When to look at each tree", "By the latest reading of each")
        self.looks = quiet("")
        self.bench.add(self.looks)
        self.bench.way.clicked.connect(self._bench)
        self.bench.show_needed(False)
        for made in (self.head, self.told, self.bar, self.next, self.entry, self.bench):
            column.addWidget(made)
        self._kinds()

    def refresh(self) -> None:
        """Show the readings of the tree in hand."""
        s = self._session
        now = self.now()
        if s.tree_id != self._tree:
            # when one tree was full is not when another was
            self._tree = s.tree_id
            for field in (self.value, self.at, self.full):
                field.clear()
        if s.tree is None or s.pot is None:
            self.bar.show_readings(None)
            self.told.setText("A reading belongs to a tree in a pot.")
            self.next.setText("")
            self.setEnabled(False)
            return
        self.setEnabled(True)
        held = s.collection.readings_of(s.tree_id)
        self.head.set_note(f"{len(held)} written down" if held else "none yet")
        found = readings_for(s.collection, s.tree_id, s.case(s.pot.id), s.pot, now)
        if isinstance(found, str):
            self.bar.show_readings(None)
            self.told.setText(f"{found[:1].upper()}{found[1:]}.")
            self.next.setText("")
            return
        self.bar.show_readings(found)
        self.told.setText(found.factor.words)
        latest = held[-1] if held else None
        said = (
            f"Last {when_words(latest.at)}: {value_words(latest)}."
            if latest
            else "A stick in the soil and the day it was last watered are enough."
        )
        if found.next_look is not None:
            said += " Look now." if found.next_look <= now else f" Look again {when_words(found.next_look)}."
        self.next.setText(said)
        # the hour is at hand; when it was last full only the grower knows
        if not self.at.hasFocus() and not self.at.text():
            self.at.setText(f"{now:%Y-%m-%d %H:%M}")

    def now(self) -> datetime:
        """The hour of the day at hand."""
        return datetime.combine(self._session.today, time(max(datetime.now().hour, 8)))

    def _kinds(self) -> None:
        kind = str(self.kind.currentData() or "stick")
        self.what.setCurrentIndex(0 if kind == "stick" else 1)
        if kind != "stick":
            self.unit.clear()
            for key, text in UNITS[kind].items():
                self.unit.addItem(text, key)

    def write_down(self) -> None:
        """Write the reading that was entered."""
        s, kind = self._session, str(self.kind.currentData() or "stick")
        value = str(self.stick.currentData() or "dry") if kind == "stick" else self.value.text()
        unit = "" if kind == "stick" else str(self.unit.currentData() or "")
        try:
            made = reading_of(s.collection.readings, s.tree_id, kind, value, unit, self.at.text(), self.full.text())
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if s.edit("Reading written down", [("reading", made.id, made)]):
            s.said.emit("fits", f"{value_words(made)} on {when_words(made.at)}: written down")
            self.at.clear()
            self.refresh()

    def probed(self, taken: Taken) -> None:
        """What a probe sends is entered; it is written down by hand."""
        self.entry.unfold()
        self.kind.show_key("probe")
        self._kinds()
        self.value.setText(f"{100 * taken.value:.0f}")
        self.at.setText(f"{taken.at:%Y-%m-%d %H:%M}")
        self._session.said.emit(
            "fits", f"{taken.value:.0%} by probe, ± {taken.tolerance:.0%}; write it down if it is this tree's"
        )

    def _bench(self) -> None:
        """When each tree that was read asks next."""
        s, now, rows = self._session, self.now(), []
        for tree in {r.tree for r in s.collection.readings}:
            planting = s.collection.planting_of(tree)
            pot = s.collection.pots.get(planting.pot) if planting else None
            one = s.collection.trees.get(tree)
            if one is None or pot is None or planting is None:
                continue
            found = readings_for(
                s.collection, tree, case_for(s.collection, tree, pot_id=pot.id, today=s.today), pot, now
            )
            if not isinstance(found, str) and found.read:
                rows.append(NextLook(tree, one.name, found.next_look, found.left_now))
        self.looks.setText(next_looks(rows, now) or "No tree has a reading yet.")
