"""The Line-up's panel: the pot in hand measured against what is asked for, taken or put back with a reason."""

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QWidget

from kesh.advice.finding import PARTS
from kesh.advice.planting.soil_batch import soil_batch
from kesh.advice.water.short import PotShort
from kesh.base.words import comma_and, counted
from kesh.desk.lineup import PART_WORDS, STATES, Column, MeasureLine, measure_lines, ordinal, with_pot, without_pot
from kesh.model import Event, Rejection
from kesh.reference.schools import schools
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.rooms.lineup.colour_box import ColourBox
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.trial_box import TrialBox

ROW_PX = 21


class MeasureTable(QWidget):
    """Status, measure, this pot, asked for: one line each on hairlines."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lines: tuple[MeasureLine, ...] = ()
        self.setAccessibleName("Measures of this pot against what is asked for")

    def show_lines(self, lines: tuple[MeasureLine, ...]) -> None:
        """Show other lines."""
        self.lines = lines
        self.setFixedHeight(fonts.scaled(ROW_PX) * (len(lines) + 1) + 4)
        self.setAccessibleDescription("; ".join(f"{x.words} {x.this}, asked {x.asked}, {x.status}" for x in lines))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, each, right = self._session.theme, fonts.scaled(ROW_PX), float(self.width())
        middle = right - fonts.scaled(78)
        words(painter, t, "this pot", middle, each - 7, "quiet", font=fonts.text(13), align="right")
        words(painter, t, "asked for", right, each - 7, "quiet", font=fonts.text(13), align="right")
        for i, line in enumerate(self.lines):
            y = each * (i + 2) - 6.0
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(0, y + 5.5, right, y + 5.5))
            status_mark(painter, t, line.status, 6, y - 4.5, 10)
            role = {"no": "oxide", "watch": "ochre"}.get(line.status, "ink")
            words(painter, t, line.words, 20, y, font=fonts.text(14))
            words(painter, t, line.this, middle, y, role, font=fonts.text(14, bold=True), align="right")
            words(painter, t, line.asked, right, y, "quiet", font=fonts.text(14), align="right")


class PartBars(QWidget):
    """The score by part: six short bars, each with its word and weight."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._parts: dict[str, float] = {}
        self.setFixedHeight(fonts.scaled(17) * 3 + 4)
        self.setAccessibleName("Score by part")

    def show_parts(self, parts: dict[str, float]) -> None:
        """Show other shares."""
        self._parts = parts
        self.setFixedHeight(fonts.scaled(17) * 3 + 4)
        self.setAccessibleDescription(", ".join(f"{PART_WORDS[p]} {v:.0%}" for p, v in parts.items()))  # type: ignore[index]
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, half = self._session.theme, self.width() / 2
        for i, (part, value) in enumerate(self._parts.items()):
            x, y = (i % 2) * (half + 4), (i // 2 + 1) * fonts.scaled(17) - 4
            words(painter, t, PART_WORDS[part], x, y, "quiet", font=fonts.text(13))  # type: ignore[index]
            box = QRectF(x + fonts.scaled(56), y - fonts.scaled(8), half - fonts.scaled(100), 6)
            painter.setPen(QPen(t.color("edge"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.fillRect(
                QRectF(box.left() + 1, box.top() + 1, (box.width() - 1) * value, box.height() - 1), t.color("moss_fill")
            )
            words(painter, t, f"{value:.0%}", x + half - 8, y, font=fonts.text(13), align="right")


class LineupPanel(Panel):
    """What the chosen column says, and what to do with it."""

    taken = pyqtSignal(str)
    filtered = pyqtSignal(object)
    real_wanted = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.years: dict[str, PotShort] = {}
        self.pot = ""
        self.head, self.note = title(""), quiet("")
        self.column.addWidget(self.head)
        self.column.addWidget(self.note)
        self.table = MeasureTable(session)
        self.column.addWidget(self.table)
        self.gap(4)
        self.school = Choice({key: s.name + " school" for key, s in schools().items()}, "School that judges")
        self.school.chosen.connect(lambda key: session.change_brief(f"Judge: {key}", school=key))
        self.column.addWidget(row("Judged by", self.school))
        self.real = QCheckBox("The tree from its photograph")
        self.real.toggled.connect(self.real_wanted)
        self.column.addWidget(self.real)
        self.gap(4)
        self.score_head, self.parts = SectionHead(session, "Score by part"), PartBars(session)
        self.column.addWidget(self.score_head)
        self.column.addWidget(self.parts)
        self.gap(4)
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap(4)
        self.colours = ColourBox(session)
        self.column.addWidget(self.colours)
        self.gap(4)
        self.trial = TrialBox(session)
        self.column.addWidget(self.trial)
        self.gap(4)
        self.soil_head, self.soil = SectionHead(session, "Soil to measure out"), quiet("")
        self.column.addWidget(self.soil_head)
        self.column.addWidget(self.soil)
        self.gap()
        self._back = SectionHead(session, "Put it back", "the reason stays")
        self.column.addWidget(self._back)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("Reason")
        self.reason.setAccessibleName("Reason for putting the pot back")
        self.reason.returnPressed.connect(self.reject)
        self.back = button("Put back", self.reject)
        self.column.addWidget(row("", self.reason, self.back))
        self.again = button("Take the rejection back", self.accept_again, link=True)
        self.column.addWidget(self.again)
        self.tried = quiet("")
        self.column.addWidget(self.tried)
        self.gap()
        self.come = button(
            "", self._hold_come, link=True, tip="They came to the shelf, or were freed, since these were chosen"
        )
        self.column.addWidget(self.come)
        self.column.addWidget(SectionHead(session, "Show on the shelf"))
        self.filters: dict[str, QCheckBox] = {}
        grid = QWidget()
        cells = QGridLayout(grid)
        cells.setContentsMargins(0, 2, 0, 2)
        for i, (state, text) in enumerate(STATES.items()):
            box = QCheckBox(text)
            box.setChecked(True)
            box.toggled.connect(lambda _=False: self._filter())
            self.filters[state] = box
            cells.addWidget(box, i // 2, i % 2)
        self.column.addWidget(grid)
        self.stop = quiet("")
        self.word = QLineEdit()
        self.word.setPlaceholderText("Why go on all the same?")
        self.word.setAccessibleName("Reason for going on against the stop signs")
        self.word.textChanged.connect(lambda _: self._main())
        self.word.returnPressed.connect(self.choose)
        self.main = button("Choose this pot", self.choose, main=True)
        for widget in (self.stop, self.word, self.main):
            self.foot.addWidget(widget)

    def _hold_come(self) -> None:
        """Hold the best of them under the tree."""
        state = self.session.lineup_state()
        come = state.come_since() if state is not None else ()
        if come:
            self.session.hold_under(come[0].id)

    def in_hand(self) -> Column | None:
        """The column in hand, or the pot of the whole shelf that is pointed at."""
        state = self.session.lineup_state()
        return state.column(self.pot) if state else None

    def show_pot(self, pot: str) -> None:
        """Another column is in hand."""
        self.pot = pot
        self.reason.clear()
        self.word.clear()
        self.refresh()

    def refresh(self) -> None:
        """Show the column in hand."""
        state, column = self.session.lineup_state(), self.in_hand()
        for widget in (
            self.table,
            self.soil_head,
            self.soil,
            self.score_head,
            self.parts,
            self.findings,
            self.colours,
            self.trial,
            self._back,
            self.reason,
            self.back,
        ):
            widget.setVisible(column is not None)
        held = state is not None and column is not None and column.pot.id in state.lineup.pots
        for widget in (self._back, self.reason, self.back):
            # only what stands in the line-up can be put back
            widget.setVisible(held)
        self.main.setVisible(column is not None)
        self.real.setVisible(bool(self.session.collection.sides_of(self.session.tree_id)))
        self.school.show_key(self.session.brief.school)
        come = state.come_since() if state is not None else ()
        self.come.setVisible(bool(come))
        self.come.setText(f"Better on the shelf now: {comma_and([p.name for p in come])}")
        if state is not None:
            for key, box in self.filters.items():
                box.setText(f"{STATES[key]} {state.count(key)}")
                box.setVisible(state.count(key) > 0)
        if state is None or column is None:
            self.head.setText("No pot in hand")
            self.note.setText("Pick one from the shelf." if state else "Add a tree first.")
            for extra in (self.stop, self.word, self.again, self.tried):
                extra.hide()
            return
        u, pot = self.session.units, column.pot
        self.head.setText(f"{pot.name} is {ordinal(column.place)} of {len(state.ranking)}")
        self.note.setText(column.reason())
        self.table.show_lines(measure_lines(column, u, self.years.get(column.pot.id)))
        self.score_head.set_note(f"{column.entry.score:.0%} in all")
        self.parts.show_parts({part: column.entry.parts[part] for part in PARTS})
        self.findings.show_findings(column.assessment.findings)
        self.colours.show_assessment(column.assessment)
        self.trial.show_assessment(column.assessment)
        batch = soil_batch(column.assessment)
        self.soil_head.set_note(u.litres(batch.total_l) if batch else "")
        lines = [f"{u.litres(x.litres)}  {x.name}" for x in batch.lines] if batch else ["No mix is chosen."]
        self.soil.setText("\n".join(lines))
        self.again.setVisible(bool(column.rejected))
        rejected = [r for r in self.session.collection.rejections if r.tree == self.session.tree_id]
        lines = [f"{self._name(r.pot)}: {r.reason}" + (f" ({r.date:%-d %b %Y})" if r.date else "") for r in rejected]
        self.tried.setText("Tried before:\n" + "\n".join(lines) if lines else "")
        self.tried.setVisible(bool(lines))
        self._main()

    def _name(self, pot: str) -> str:
        found = self.session.collection.pots.get(pot)
        return found.name if found else pot

    def _main(self) -> None:
        column, state = self.in_hand(), self.session.lineup_state()
        if column is None or state is None:
            return
        signs = column.stop_signs()
        chosen = state.lineup.chosen == column.pot.id
        self.stop.setVisible(bool(signs) and not chosen)
        self.word.setVisible(bool(signs) and not chosen)
        self.stop.setText(f"{counted(len(signs), 'stop sign')}. Say why before you go on.")
        self.main.setText(f"{column.pot.name} is chosen" if chosen else f"Choose {column.pot.name}")
        self.main.setEnabled(not chosen and (not signs or bool(self.word.text().strip())))

    def choose(self) -> None:
        """Take the pot; stop signs are acknowledged with a reason that stays in the log."""
        column, state = self.in_hand(), self.session.lineup_state()
        if column is None or state is None or not self.main.isEnabled():
            return
        today, tree = self.session.today, self.session.tree_id
        lineup = with_pot(state.lineup, self.session.lineup_case(), column.pot).changed(chosen=column.pot.id)
        text = f"Chosen: {column.pot.name}."
        if column.stop_signs():
            text += f" Against {', '.join(column.entry.blockers).replace('_', ' ')}: {self.word.text().strip()}"
        number = len(self.session.collection.events)
        event = Event(
            id=f"chosen-{tree}-{number}-{today}", tree=tree, date=today, kind="pot_tried", text=text, pot=column.pot.id
        )
        if self.session.edit(f"{column.pot.name} chosen", [("lineup", tree, lineup), ("event", event.id, event)]):
            self.word.clear()
            self.taken.emit(column.pot.id)

    def reject(self) -> None:
        """Put the pot back; a reason, when one is given, stays with tree and pot."""
        column, state, reason = self.in_hand(), self.session.lineup_state(), self.reason.text().strip()
        if column is None or state is None:
            return
        tree, pot = self.session.tree_id, column.pot.id
        changes: list[tuple[str, str, object]] = [("lineup", tree, without_pot(state.lineup, pot))]
        if reason:
            record = Rejection(id=f"{tree}/{pot}", tree=tree, pot=pot, reason=reason, date=self.session.today)
            changes.append(("rejection", record.id, record))
        self.session.edit(f"{column.pot.name} put back", changes)

    def accept_again(self) -> None:
        """Forget a rejection."""
        key = f"{self.session.tree_id}/{self.pot}"
        self.session.edit("Rejection taken back", [("rejection", key, None)])

    def _filter(self) -> None:
        shown = frozenset(key for key, box in self.filters.items() if box.isChecked())
        self.filtered.emit(None if len(shown) == len(self.filters) else shown)
