"""The main window: builds the frame, asks the room in sight for its sheet and panel, restores how it looked. It decides nothing."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QKeySequence, QResizeEvent, QShortcut
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from kesh.advice.assess import Assessment, Finding
from kesh.base.errors import KeshError
from kesh.desk.opening import state_words
from kesh.photo.darkroom import Darkroom
from kesh.store.collection_file import CollectionFile
from kesh.ui.asker import Asker
from kesh.ui.commands import COMMANDS, ROOM_OF, SHEET_KEYS, meant
from kesh.ui.cutter import Cutter
from kesh.ui.device_line import DeviceLine
from kesh.ui.drops import Drops
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.rooms import PLACES, STEPS, known, room_of, steps_for
from kesh.ui.rooms.room import Context, Face
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.settings import Settings
from kesh.ui.theme import fonts
from kesh.ui.theme.style import style_sheet
from kesh.ui.widgets.common import SectionHead, Title
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.frame import DrawerHandle, Rail, StatusLine, StepHead, StepPath
from kesh.ui.widgets.palette import CommandBox, KeyCard
from kesh.ui.widgets.tree_list import TreeList
from kesh.ui.widgets.why_panel import WhyPanel

PANEL_PX, WIDE_PANEL_PX, LIST_PX, NARROW_LIST_PX = 300, 360, 220, 76
FOLD_LIST, FOLD_PANEL, WIDE = 1180, 1060, 1600
BENCH = "bench"
MINUTE_MS = 60_000


class MainWindow(QMainWindow):
    """One collection in one window; only the room that is asked for is built when it opens."""

    def __init__(
        self, session: Session, settings: Settings, runner: Runner, asker: Asker, room: str = STEPS[0].key
    ) -> None:
        super().__init__()
        self.session, self.settings, self.runner = session, settings, runner
        self.gallery = Gallery(runner)
        self.darkroom = Darkroom(lambda key: session.file.picture(key))
        self.cutter = Cutter(session, runner, self.darkroom)
        self.line = DeviceLine(session)
        self.context = Context(
            session, settings, runner, self.gallery, self.darkroom, self.cutter, asker, self, self.go, self.do
        )
        self._faces: dict[str, Face] = {}
        self.room = self.step = STEPS[0].key
        self._drawer_open = False
        self.setWindowTitle(f"{session.collection.name} – Kesh")
        self.setMinimumSize(1024, 640)
        self._build()
        Drops(self, self.context, self.attempt)
        self._connect()
        self.go(room)
        self.refresh_look()
        self._focus()

    def _build(self) -> None:
        s = self.session
        self.rail, self.trees = Rail(s), TreeList(s, self.gallery, self.runner)
        self.path, self.status, self.head, self.why = StepPath(s), StatusLine(s), StepHead(s), WhyPanel(s)
        self.middle, self.side = QStackedWidget(), QStackedWidget()
        self.middle.setObjectName("sheet")
        self.side.setObjectName("panel")
        self.side.addWidget(self.why)
        self.handle = DrawerHandle(s)
        self.handle.hide()
        body = QWidget()
        line = QHBoxLayout(body)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget, stretch in ((self.path, 0), (self.head, 0), (self.middle, 1), (self.status, 0)):
            column.addWidget(widget, stretch)
        line.addWidget(self.rail)
        line.addWidget(self.trees)
        line.addLayout(column, 1)
        line.addWidget(self.handle)
        line.addWidget(self.side)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        s = self.session
        self.rail.opened.connect(self.go)
        self.rail.commands.connect(lambda: self.do("commands"))
        self.path.opened.connect(self.go)
        self.head.opened.connect(self.show_view)
        self.trees.chosen.connect(s.choose_tree)
        self.trees.add.connect(lambda: self.do("new_tree"))
        s.changed.connect(self.refresh)
        s.drafted.connect(self._drafted)
        s.tree_changed.connect(self._tree_changed)
        s.file_changed.connect(self._file_changed)
        s.look_changed.connect(self.refresh_look)
        s.units_changed.connect(self.refresh_units)
        s.said.connect(self.status.say)
        s.moved.connect(self._file_moved)
        self._midnight = QTimer(self)
        self._midnight.setInterval(MINUTE_MS)
        self._midnight.timeout.connect(s.follow_day)
        self._midnight.start()
        self.runner.failed.connect(lambda text: self.status.say("no", text))
        self.runner.stopped.connect(lambda text: self.status.say("unknown", text))
        self.runner.busy.connect(self.status.show_busy)
        self.runner.idle.connect(self.status.show_idle)
        self.status.halt.clicked.connect(self.runner.halt)
        self.handle.clicked.connect(self._toggle_drawer)
        self.why.closed.connect(self.back)
        self.why.wanted.connect(self.go)
        for key, row in COMMANDS.items():
            for keys in (row.shortcut, *row.more):
                if keys:
                    shortcut = QShortcut(QKeySequence(keys), self)
                    shortcut.activated.connect(lambda k=key: self.do(k))
        for number in range(1, len(STEPS) + 1):
            QShortcut(QKeySequence(str(number)), self).activated.connect(lambda n=number: self.open_step(n))
        self._escape = QShortcut(QKeySequence("Escape"), self.why, self.back)
        self._escape.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # rooms -------------------------------------------------------------------------------------------------------

    def face(self, key: str) -> Face:
        """A room's face; it is made when the room is first gone to, so that the window opens without the rest."""
        if key not in self._faces:
            made = room_of(key).face(self.context)
            self._faces[key] = made
            self.middle.addWidget(made.sheet)
            self.side.addWidget(made.panel)
            made.turned.connect(self._turned)
            made.pointed.connect(self._point)
            for found in made.panel.findChildren(FindingList):
                found.asked.connect(self.ask)
            made.asked.connect(self.ask)
            for view in made.sheet.findChildren(SheetView) or (
                [made.sheet] if isinstance(made.sheet, SheetView) else []
            ):
                view.scaled.connect(lambda _: self._show_scale())
                view.pointed.connect(self._point)
                view.wants.connect(self.do)
            made.refit()
        return self._faces[key]

    @property
    def here(self) -> Face:
        """The face of the room in sight."""
        return self.face(self.room)

    def go(self, key: str, **what: Any) -> None:
        """Open a room, or the bench with the step that was open last; what is brought along is put in hand there."""
        key = self.step if key == BENCH else str(key)
        assert known(key), key
        room = room_of(key)
        face, on_bench = self.face(key), room.kind == "step"
        self.room = key
        if on_bench:
            self.step = key
        self.rail.show_place(BENCH if on_bench else key)
        self.middle.setCurrentWidget(face.sheet)
        self.side.setCurrentWidget(face.panel)
        for widget in (self.path, self.head, self.trees):
            widget.setVisible(on_bench)
        face.entered()
        if what:
            face.arrive(**what)
        self._turned()

    def open_step(self, number: int) -> None:
        """The step with this number among those of the tree in hand."""
        steps = steps_for(self.session)
        if number <= len(steps):
            self.go(steps[number - 1].key)

    def show_view(self, view: str) -> None:
        """Another view of the room in sight."""
        self.back()
        self.here.show_view(view)

    @property
    def view(self) -> str:
        """The view in sight."""
        return self.here.view

    def next_view(self) -> None:
        """The next view of the room in sight."""
        views = [key for key, _ in self.here.views()]
        if views:
            self.show_view(views[(views.index(self.view) + 1) % len(views)])

    def do(self, key: str) -> None:
        """Carry out a command; what the user can mend is said on the status line."""
        self.status.say("fits", "")
        does = COMMANDS[key].does
        self.attempt(lambda: getattr(self.face(ROOM_OF[key]), does)() if isinstance(does, str) else does(self.context))

    def attempt(self, work: Callable[[], object]) -> None:
        """Carry out a piece of work; what the user can mend is said on the status line."""
        try:
            work()
        except KeshError as err:
            self.session.said.emit("no", str(err))

    # findings ----------------------------------------------------------------------------------------------------

    def ask(self, of: Finding | str) -> bool:
        """Show why a finding says what it says, or the one in sight with a code; False when there is no such finding."""
        face = self.here
        finding = of if isinstance(of, Finding) else face.finding(of)
        if finding is None:
            return False
        rooms = {room.key: room.words for room in (*steps_for(self.session), *PLACES) if room.key != self.room}
        self.why.show_finding(face.assessment(), finding, rooms, face.remedy(finding))
        self.side.setCurrentWidget(self.why)
        return True

    def _ask_again(self) -> bool:
        """The finding in sight as it stands now, where it still stands."""
        was = self.why.finding
        now = self.here.finding(was.code, was.text) if was is not None else None
        return now is not None and self.ask(now)

    def back(self) -> None:
        """From a finding to the findings."""
        self.side.setCurrentWidget(self.here.panel)

    @property
    def asking(self) -> bool:
        """Whether the grounds of a finding are in sight."""
        return self.side.currentWidget() is self.why

    def walk_findings(self, by: int) -> None:
        """Put the next finding in hand."""
        rows = self.here.findings.rows if self.here.findings is not None else []
        if not rows:
            return
        if self.asking:
            found = [r.finding for r in rows]
            at = found.index(self.why.finding) if self.why.finding in found else -1
            self.ask(found[(at + by) % len(found)])
            return
        at = next((i for i, r in enumerate(rows) if r.hasFocus()), -1 if by > 0 else 0)
        rows[(at + by) % len(rows)].setFocus()

    def _count_findings(self) -> None:
        """The folded panel's handle tells of what the room in sight speaks of."""
        self.handle.show_count(*self.here.worst(), open_=self._drawer_open)

    # following the session ---------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the collection as it stands."""
        self.setWindowTitle(f"{self.session.collection.name} – Kesh")
        self.trees.refresh()
        self.here.refresh()
        if self.asking and not self._ask_again():
            self.back()
        self._turned()

    def _turned(self) -> None:
        """Title, notes, keys and scale of the room in sight."""
        face = self.here
        self.head.show_views(face.views(), face.view)
        self.head.show_title(face.title(), face.view)
        steps = steps_for(self.session)
        notes = {room.key: room.note(self.session) for room in steps if room.note is not None}
        self.path.show_step(self.step, notes, tuple(room.key for room in steps))
        self._count_findings()
        self._show_scale()

    def _drafted(self) -> None:
        """While something is dragged only the drawing and its figures follow."""
        self.here.drafted()
        self.head.show_title(self.here.title(), self.here.view)

    def _tree_changed(self) -> None:
        self.trees.refresh()
        for face in self._faces.values():
            face.tree_changed()
        self.back()
        if self.step not in [room.key for room in steps_for(self.session)]:
            # the step in sight is not for this tree
            on_bench = room_of(self.room).kind == "step"
            self.step = STEPS[0].key
            if on_bench:
                self.go(self.step)
        self.here.entered()
        self.refresh()

    def _file_moved(self) -> None:
        """The collection stands under another name: it is opened there the next time."""
        self.settings.put("last_file", str(self.session.path))

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            # a machine that slept past midnight has not counted the minutes
            self.session.follow_day()

    def _file_changed(self) -> None:
        """Nothing of the collection before may arrive in this one."""
        self.runner.new_collection()
        self.gallery.forget_asked()
        self.darkroom.forget()
        self.trees.forget()
        for face in self._faces.values():
            face.file_changed()

    def refresh_units(self) -> None:
        """Figures are written in other units; nothing else of the look changes."""
        for face in self._faces.values():
            face.refit()
        self._fold()
        self.refresh()
        self.update()

    def refresh_look(self) -> None:
        """Theme or text size changed."""
        self.setStyleSheet(style_sheet(self.session.theme))
        self.path.setFixedHeight(fonts.scaled(68))
        self.status.setFixedHeight(fonts.scaled(26))
        self.rail.refit()
        for face in self._faces.values():
            face.refit()
        for label in self.findChildren(Title):
            label.refit()
        for head in self.findChildren(SectionHead):
            head.refit()
        self._fold()
        self.refresh()
        self.update()

    def _show_scale(self) -> None:
        self.status.px_mm, self.status.hand = self.here.px_mm(), ""
        self.status.keys = self.here.keys()
        self.status.update()

    def _point(self, text: str) -> None:
        self.status.hand = text
        if self.status.message and not text.startswith("Pointer"):
            self.status.say("fits", "")
        self.status.update()

    def _focus(self) -> None:
        drawing = self.here.drawing()
        if drawing is not None:
            drawing.setFocus()

    # what commands ask -------------------------------------------------------------------------------------------

    def take_file(self, file: CollectionFile) -> None:
        """Work in another collection."""
        self.session.take_file(file)
        self.settings.put("last_file", str(file.path))
        self.trees.search.clear()
        self.go(BENCH)
        self.refresh()
        self.say_state()

    def say_state(self) -> None:
        """Read-only files and lost or odd records are said at once."""
        status, text = state_words(self.session.file)
        if text:
            self.session.said.emit(status, text)

    def in_sight(self) -> QWidget:
        """The drawing in sight, or the sheet."""
        return self.here.drawing() or self.here.sheet

    def in_question(self) -> Assessment | None:
        """What the printed sheet speaks of: the pot in hand in the line-up, the chosen one, or the present one."""
        s = self.session
        if self.room in ("line-up", "roots"):
            return self.here.assessment()
        lineup = s.collection.lineups.get(s.tree_id)
        pot = s.collection.pots.get(lineup.chosen) if lineup and lineup.chosen else None
        return s.tried(pot) if pot is not None and pot is not s.pot else s.planned()

    def find_here(self) -> None:
        """Put the cursor into the search of the place in sight."""
        field = self.here.search or self.trees.search
        field.setFocus()
        field.selectAll()

    def device(self) -> DeviceLine:
        """The line a calliper or scale hangs on."""
        return self.line

    def parent_widget(self) -> QWidget:
        """What dialogs stand over."""
        return self

    def open_commands(self) -> None:
        """Every command in one box."""
        CommandBox(self, self.session.theme, tuple(COMMANDS.values()), self.do, meant).open_over(self)

    def open_keys(self) -> None:
        """The key card."""
        KeyCard(self, self.session.theme, tuple(COMMANDS.values()), SHEET_KEYS).open_over(self)

    # folding -----------------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fold()

    def _fold(self) -> None:
        """Narrow windows fold the list to pictures, then the panel to a drawer."""
        wide = self.width() * 100 // fonts.scaled(100)
        self.trees.fold(wide < FOLD_LIST, NARROW_LIST_PX if wide < FOLD_LIST else fonts.scaled(LIST_PX))
        self.side.setFixedWidth(fonts.scaled(WIDE_PANEL_PX if wide >= WIDE else PANEL_PX))
        narrow = wide < FOLD_PANEL
        self.handle.setVisible(narrow)
        self.side.setVisible(not narrow or self._drawer_open)
        self._count_findings()

    def _toggle_drawer(self) -> None:
        self._drawer_open = not self._drawer_open
        self._fold()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.key() != Qt.Key.Key_Escape or not self.runner.halt():
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.runner.stop()
        self.line.let_go()
        self.session.file.close()
        super().closeEvent(event)

    def settle(self) -> None:
        """Let background pictures arrive (for pictures of the window)."""
        for _ in range(4):
            QApplication.processEvents()
            self.runner.wait()
        QApplication.processEvents()
