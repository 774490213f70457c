"""The Reference: tables with the confidence of each number, schools, disagreements and cautions; own values over them."""

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QButtonGroup,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.desk.reference import EDITABLE, TOPICS, Entry, Table, copied, field_words, overridden, table_of
from kesh.formats.weather_csv import WeatherFile, read_weather
from kesh.reference.starters import climate_of, climates
from kesh.ui.rooms.reference.mix_page import MixPage
from kesh.ui.rooms.reference.site_page import SitePage
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, row, title


class TableModel(QAbstractTableModel):
    """One topic's rows."""

    def __init__(self) -> None:
        super().__init__()
        self.table: Table | None = None
        self.rows: tuple[Entry, ...] = ()

    def show_table(self, table: Table, rows: tuple[Entry, ...]) -> None:
        """Other rows."""
        self.beginResetModel()
        self.table, self.rows = table, rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  Qt's own signature
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  Qt's own signature
        return len(self.table.heads) if self.table and not parent.isValid() else 0

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        entry = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            text = entry.cells[index.column()]
            return f"{text} (own)" if entry.own and index.column() == 0 else text
        return None

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and way == Qt.Orientation.Horizontal and self.table:
            return self.table.heads[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        return None


# topics that are edited on a page of their own
PAGES = {"climate": "Climate", "mixes": "Mixes"}
PAGE_WORDS = {
    "climate": (
        "Climate",
        "Drying, frost, wind and the season are reckoned from it. Monthly means are enough; the coldest and the warmest of a day, averaged over the month. Starting points: your own thermometer knows better.",
    ),
    "mixes": (
        "Mixes",
        "Parts by loose volume; they need not add up to anything. Each component is a grade of the substrates table, where its figures can be set to your own batch.",
    ),
}


class ReferenceSheet(QWidget):
    """Topics, search and the table."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("sheet")
        self.topic = "species"
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 12, 12, 0)
        column.setSpacing(8)
        head = QHBoxLayout()
        self.title = title("", 21)
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find in this table")
        self.search.setAccessibleName("Find in this table")
        self.search.setFixedWidth(fonts.scaled(220))
        head.addWidget(self.title, 1)
        head.addWidget(self.search)
        column.addLayout(head)
        line = QHBoxLayout()
        line.setSpacing(0)
        group = QButtonGroup(self)
        self.topics: dict[str, QPushButton] = {}
        for key, text in {**PAGES, **TOPICS}.items():
            made = QPushButton(text)
            made.setCheckable(True)
            made.setChecked(key == self.topic)
            group.addButton(made)
            self.topics[key] = made
            line.addWidget(made)
        line.addStretch(1)
        column.addLayout(line)
        self.model, self.view = TableModel(), QTableView()
        self.view.setModel(self.model)
        self.view.setAccessibleName("Reference table")
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.view.setShowGrid(False)
        self.view.setWordWrap(False)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        down, across = self.view.verticalHeader(), self.view.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        down.setDefaultSectionSize(fonts.scaled(24))
        across.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        across.setHighlightSections(False)
        self.pages = QStackedWidget()
        self.site, self.mixes = SitePage(session), MixPage(session)
        for page in (self.view, self.site, self.mixes):
            self.pages.addWidget(page)
        column.addWidget(self.pages, 1)

    def fit_columns(self) -> None:
        """Columns as wide as their words, the widest giving way so that nothing scrolls sideways."""
        across = self.view.horizontalHeader()
        if across is None or not self.model.columnCount():
            return
        self.view.resizeColumnsToContents()
        room, count = self.width() - 46, self.model.columnCount()
        wide = [min(across.sectionSize(i) + 12, 420) for i in range(count)]
        over = sum(wide) - room
        while over > 0:
            i = wide.index(max(wide))
            step = min(over, 10)
            wide[i] -= step
            over -= step
        wide[-1] += max(0, -over)
        for i, px in enumerate(wide):
            across.resizeSection(i, px)

    def resizeEvent(self, event: object) -> None:
        self.fit_columns()


class ReferencePanel(Panel):
    """Every field of the row in hand; species and substrates take own values."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head, self.note = title(""), quiet("")
        self.column.addWidget(self.head)
        self.column.addWidget(self.note)
        self.fields: dict[str, QLineEdit] = {}
        self._made: list[QWidget] = []

    def show_words(self, head: str, text: str) -> None:
        """A head and a few sentences, for a page that is edited on the sheet."""
        self.clear()
        self.head.setText(head)
        self.note.setText(text)

    def clear(self) -> None:
        """No fields."""
        for old in self._made:
            self.column.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._made, self.fields = [], {}

    def show_entry(self, table: Table, entry: Entry | None) -> None:
        """Another row."""
        self.clear()
        if entry is None:
            self.head.setText("Nothing found")
            self.note.setText("Search for fewer words.")
            return
        self.head.setText(entry.cells[0])
        self.note.setText(table.note)
        editable = table.topic in EDITABLE
        signs = [f for f in entry.fields if f[0] == "wait_for" or not editable]
        figures = [f for f in entry.fields if f not in signs]
        for name, value in (*signs, *figures):
            words = field_words(name)
            if figures and (name, value) == figures[0]:
                self._add(SectionHead(self.session, "Figures", "type over to set your own"))
            if (name, value) not in signs:
                field = QLineEdit(value)
                field.setFixedWidth(fonts.scaled(112))
                field.setCursorPosition(0)
                field.setAccessibleName(words)
                field.editingFinished.connect(lambda n=name, f=field, e=entry, t=table: self._own(t, e, n, f))
                self.fields[name] = field
                self._add(row(words, field, tip=value))
            else:
                self._add(SectionHead(self.session, words))
                label = QLabel(value)
                label.setWordWrap(True)
                self._add(label)
        if editable:
            self._add(button("Copy as a row of my own", lambda: self._copy(table, entry), link=True))

    def _add(self, widget: QWidget) -> None:
        self._made.append(widget)
        self.column.addWidget(widget)

    def _copy(self, table: Table, entry: Entry) -> None:
        """One's own material or species, with these figures to begin with."""
        row = copied(table.topic, entry.key, self.session.collection)
        if self.session.edit(f"{entry.cells[0]} copied", [(EDITABLE[table.topic], row["key"], row)]):
            self.session.said.emit("fits", "Copied: change its name, sieve sizes and pores, then choose it for a mix")

    def _own(self, table: Table, entry: Entry, name: str, field: QLineEdit) -> None:
        if field.text().strip() == dict(entry.fields).get(name, ""):
            return
        try:
            own = overridden(table.topic, entry.key, name, field.text(), self.session.collection)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            field.setText(dict(entry.fields).get(name, ""))
            return
        self.session.edit(
            f"Own value: {entry.cells[0]}, {name.replace('_', ' ')}", [(EDITABLE[table.topic], entry.key, own)]
        )


class ReferenceFace(Face):
    """Sheet and panel of the place, joined."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        session = context.session
        self.tables, self.entry = ReferenceSheet(session), ReferencePanel(session)
        self.sheet, self.panel = self.tables, self.entry
        self.search = self.tables.search
        self._key = ""
        for key, made in self.tables.topics.items():
            made.clicked.connect(lambda _=False, k=key: self.open(k))
        self.search.textChanged.connect(lambda _: self.refresh())
        self.tables.site.wanted.connect(self._weather)
        context.desk.device().day.connect(self.tables.site.day)
        selection = self.tables.view.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(lambda now, _: self._pick(now.row()))

    def _weather(self, forecast: bool) -> None:
        """Ask for a weather file and read it beside the window."""
        c = self.context
        path = c.asker.open_file(c.desk.parent_widget(), "Read weather", c.folder, "Tables (*.csv *.txt *.tsv)")
        if path is None:
            return

        def work(progress: Progress) -> WeatherFile | str:
            try:
                return read_weather(path, forecast=forecast, progress=progress)
            except KeshError as err:
                return str(err)

        def done(found: WeatherFile | str) -> None:
            if isinstance(found, str):
                c.say("no", found)
            else:
                self.tables.site.take(found)

        c.runner.start_long("weather", "Reading weather", work, done)

    def open(self, topic: str) -> None:
        """Another topic."""
        self.tables.topic = topic
        self.tables.topics[topic].setChecked(True)
        self._key = ""
        self.refresh()

    def refresh(self) -> None:
        """Follow the session."""
        if self.tables.topic in PAGES:
            self._show_page()
            return
        self.tables.pages.setCurrentWidget(self.tables.view)
        self.tables.search.setVisible(True)
        table = table_of(self.tables.topic, self.session.collection)
        rows = table.matching(self.tables.search.text())
        self.tables.title.setText(
            f"{TOPICS[self.tables.topic]}: {len(rows)} of {len(table.rows)}"
            if len(rows) != len(table.rows)
            else f"{TOPICS[self.tables.topic]}: {len(rows)}"
        )
        self.tables.model.show_table(table, rows)
        self.tables.fit_columns()
        keys = [r.key for r in rows]
        at = keys.index(self._key) if self._key in keys else 0
        if rows:
            self.tables.view.selectRow(at)
            self._pick(at)
        else:
            self.entry.show_entry(table, None)

    def _show_page(self) -> None:
        """The climate or the mixes, to be changed."""
        page = self.tables.site if self.tables.topic == "climate" else self.tables.mixes
        self.tables.pages.setCurrentWidget(page)
        self.tables.search.setVisible(False)
        page.refresh()
        site, mixes = self.session.collection.site, self.session.collection.mixes
        if self.tables.topic == "climate":
            known = climates().get(climate_of(site))
            self.tables.title.setText(f"Climate: {known.words if known else site.name if site else 'none yet'}")
        else:
            self.tables.title.setText(f"Mixes: {len(mixes)}")
        self.entry.show_words(*PAGE_WORDS[self.tables.topic])

    def entered(self) -> None:
        self.refresh()
        self.tables.view.setFocus()

    def arrive(self, **what: Any) -> None:
        if "topic" in what:
            self.open(str(what["topic"]))

    def _pick(self, at: int) -> None:
        table, rows = self.tables.model.table, self.tables.model.rows
        if table is not None and 0 <= at < len(rows):
            self._key = rows[at].key
            self.entry.show_entry(table, rows[at])
