"""The main window: builds the frame, connects it, restores how it looked. It decides nothing."""

from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QKeySequence, QResizeEvent, QShortcut
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from kesh.advice.sensitivity import sensitivity
from kesh.photo.darkroom import Darkroom
from kesh.ui.actions import ACTIONS, Act
from kesh.ui.asker import Asker
from kesh.ui.deeds import Deeds
from kesh.ui.device_line import DeviceLine
from kesh.ui.places.shelf import ShelfPlace
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.settings import Settings
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.steps.bench import BenchPanel, BenchSheet, hold_under
from kesh.ui.theme import fonts
from kesh.ui.theme.style import style_sheet
from kesh.ui.widgets.common import SectionHead, Title
from kesh.ui.widgets.frame import DrawerHandle, Place, Rail, StatusLine, Step, StepPath
from kesh.ui.widgets.palette import CommandBox, KeyCard
from kesh.ui.widgets.tree_list import TreeList

if TYPE_CHECKING:
    from kesh.ui.places.reference import ReferencePlace
    from kesh.ui.workshop.place import WorkshopPlace

PANEL_PX, WIDE_PANEL_PX, LIST_PX, NARROW_LIST_PX = 300, 360, 220, 76
WORKSHOP_KEYS = "G takes a grip   arrows move it 1 mm   F5 asks the solver   Ctrl+Shift+W writes the files"
FOLD_LIST, FOLD_PANEL, WIDE = 1180, 1060, 1600


class MainWindow(QMainWindow):
    """One collection in one window."""

    def __init__(self, session: Session, settings: Settings, runner: Runner, asker: Asker) -> None:
        super().__init__()
        self.session, self.settings, self.runner = session, settings, runner
        self.gallery = Gallery(runner)
        self.place, self.step = Place.BENCH, Step.TREE
        self._drawer_open = False
        self.setWindowTitle(f"{session.collection.name} – Kesh")
        self.setMinimumSize(1024, 640)
        self._build()
        self.device = DeviceLine(session)
        self.deeds = Deeds(self, asker)
        self._connect()
        self.refresh_look()
        self.show_place(Place.BENCH)
        self.sheet.tree.setFocus()

    def _build(self) -> None:
        s = self.session
        self.rail, self.trees, self.path, self.status = (
            Rail(s),
            TreeList(s, self.gallery, self.runner),
            StepPath(s),
            StatusLine(s),
        )
        self.darkroom = Darkroom(lambda key: s.file.picture(key))
        self.sheet = BenchSheet(s, self.gallery, self.darkroom)
        self.panel = BenchPanel(s, self.darkroom, lambda: self.do(Act.ADD_PHOTO), lambda: self.do(Act.CUT_OUT))
        self.shelf = ShelfPlace(s, self.gallery, self.runner)
        self.middle, self.side = QStackedWidget(), QStackedWidget()
        self._stack(self.sheet, self.panel)
        self._stack(self.shelf.sheet, self.shelf.panel)
        self.handle = DrawerHandle(s)
        self.handle.hide()
        body = QWidget()
        line = QHBoxLayout(body)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget, stretch in ((self.path, 0), (self.middle, 1), (self.status, 0)):
            column.addWidget(widget, stretch)
        line.addWidget(self.rail)
        line.addWidget(self.trees)
        line.addLayout(column, 1)
        line.addWidget(self.handle)
        line.addWidget(self.side)
        self.setCentralWidget(body)

    def _stack(self, sheet: QWidget, panel: QWidget) -> None:
        self.middle.addWidget(sheet)
        self.side.addWidget(panel)

    # these two are built when first gone to, so that the window opens without them
    @cached_property
    def reference(self) -> "ReferencePlace":
        """The tables and schools."""
        from kesh.ui.places.reference import ReferencePlace

        made = ReferencePlace(self.session, self.settings)
        self._stack(made.sheet, made.panel)
        return made

    @cached_property
    def workshop(self) -> "WorkshopPlace":
        """Where pots are designed."""
        from kesh.ui.workshop.place import WorkshopPlace

        made = WorkshopPlace(self.session, self.gallery, self.runner, str(self.settings.get("making")))
        made.panel.kept.connect(lambda text: self.settings.put("making", text))
        self._stack(made.sheet, made.panel)
        made.asked.connect(lambda: self.do(Act.SOLVE))
        made.panel.write.connect(lambda: self.do(Act.MAKE_FILES))
        for view in made.sheet.views:
            view.pointed.connect(self._point)
        return made

    def _connect(self) -> None:
        s = self.session
        self.rail.opened.connect(self.show_place)
        self.rail.commands.connect(lambda: self.do(Act.COMMANDS))
        self.path.opened.connect(self.show_step)
        self.trees.chosen.connect(s.choose_tree)
        self.trees.add.connect(lambda: self.do(Act.NEW_TREE))
        s.changed.connect(self.refresh)
        s.drafted.connect(self._drafted)
        s.tree_changed.connect(self._tree_changed)
        s.look_changed.connect(self.refresh_look)
        s.said.connect(self.status.say)
        self.runner.failed.connect(lambda text: self.status.say("no", text))
        self.runner.stopped.connect(lambda text: self.status.say("unknown", text))
        self.runner.busy.connect(self.status.show_busy)
        self.runner.idle.connect(self.status.show_idle)
        self.status.halt.clicked.connect(self.runner.halt)
        self.sheet.viewed.connect(self._show_view)
        photo = self.sheet.photo
        photo.tool_changed.connect(self.panel.photo.show_tool)
        self.panel.photo.tool_wanted.connect(photo.use_tool)
        self.panel.photo.photo_wanted.connect(self.show_photo)
        self.panel.photo.follow.toggled.connect(lambda on: setattr(photo, "follow", on))
        self.panel.photo.reader = lambda: (photo.reading_mm(), photo.years)
        photo.read.connect(self.panel.photo.show_reader)
        self.panel.photo.trunk.years_wanted.connect(photo.show_years)
        photo.use_tool("marks")
        for view in (self.sheet.tree, self.sheet.photo, self.sheet.roots, self.sheet.brief, self.sheet.lineup):
            view.scaled.connect(lambda _: self._show_scale())
            view.pointed.connect(self._point)
        self.sheet.lineup.picked.connect(self._show_pot)
        self.sheet.lineup.wanted.connect(lambda pot: hold_under(s, pot))
        self.sheet.ranked.wanted.connect(lambda pot: hold_under(s, pot))
        self.panel.lineup.colours.seen = self.deeds.photo.colours_seen
        self.panel.lineup.real_wanted.connect(self.deeds.photo.stand_in_pots)
        self.panel.lineup.filtered.connect(self._filter)
        self.panel.tree.brief.clicked.connect(lambda: self.show_step(Step.BRIEF))
        self.panel.brief.lineup.clicked.connect(lambda: self.show_step(Step.LINEUP))
        self.shelf.tree_wanted.connect(self._to_tree)
        self.handle.clicked.connect(self._toggle_drawer)
        for act, row in ACTIONS.items():
            for keys in (row.shortcut, *row.more):
                shortcut = QShortcut(QKeySequence(keys), self)
                shortcut.activated.connect(lambda a=act: self.do(a))
        self._escape = QShortcut(QKeySequence("Escape"), self.panel.why, self.panel.back)
        self._escape.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # moving about ------------------------------------------------------------------------------------------------

    def do(self, act: Act) -> None:
        """Carry out a command."""
        self.status.say("fits", "")
        self.deeds.do(act)

    def show_place(self, place: str) -> None:
        """Open a place."""
        self.place = Place(place)
        self.rail.show_place(place)
        on_bench = self.place == Place.BENCH
        page = self if on_bench else getattr(self, self.place.value)
        self.middle.setCurrentWidget(page.sheet)
        self.side.setCurrentWidget(page.panel)
        self.path.setVisible(on_bench)
        self.trees.setVisible(on_bench)
        if on_bench:
            self.show_step(self.step)
        elif self.place == Place.SHELF:
            self.shelf.refresh()
            self.shelf.sheet.view.setFocus()
        elif self.place == Place.WORKSHOP:
            self.workshop.refresh()
            self.workshop.sheet.profile.setFocus()
        else:
            self.reference.refresh()
            self.reference.sheet.view.setFocus()
        self._show_scale()

    def show_step(self, step: str) -> None:
        """Open a step on the bench."""
        self.step = Step(step)
        if self.place != Place.BENCH:
            self.show_place(Place.BENCH)
            return
        self.sheet.show_step(self.step)
        self.panel.show_step(self.step)
        if self.step == Step.LINEUP:
            self.panel.lineup.show_pot(self.sheet.lineup.chosen)
        self._count_findings()
        self._show_notes()
        self._show_scale()
        self._weigh_measures()

    def _show_view(self, view: str) -> None:
        self.panel.show_view(view)
        self._show_scale()
        if view == "photo":
            self.deeds.photo.cut_when_due()

    def show_photo(self, photo: str) -> None:
        """Take a photograph in hand."""
        self.sheet.photo.choose(photo)
        self.panel.photo.show_photo(photo)
        self.sheet.refresh_title()
        self.deeds.photo.cut_when_due()

    def _to_tree(self, tree: str) -> None:
        self.session.choose_tree(tree)
        self.show_step(Step.LINEUP)

    def _tree_changed(self) -> None:
        self.trees.refresh()
        self.sheet.lineup.chosen = ""
        self.panel.back()
        self.show_step(self.step) if self.place == Place.BENCH else None
        self.refresh()

    def _show_pot(self, pot: str) -> None:
        self.panel.lineup.show_pot(pot)
        self._count_findings()

    def _filter(self, states: frozenset[str] | None) -> None:
        self.sheet.lineup.states = self.sheet.ranked.states = states
        self.sheet.lineup.update()
        if self.sheet.view == "shelf":
            self.sheet.ranked.refresh()

    # following the session ---------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the collection as it stands."""
        self.setWindowTitle(f"{self.session.collection.name} – Kesh")
        self.trees.refresh()
        if self.place == Place.BENCH:
            self.sheet.refresh()
            self.panel.refresh()
            if self.step == Step.TREE and self.sheet.view == "photo":
                self.deeds.photo.cut_when_due()
            self._weigh_measures()
        elif self.place == Place.SHELF:
            self.shelf.refresh()
        elif self.place == Place.WORKSHOP:
            self.workshop.refresh()
        else:
            self.reference.refresh()
        self._count_findings()
        self._show_notes()

    def _weigh_measures(self) -> None:
        """In the brief: ask in the background which measure moves the advice most."""
        s = self.session
        if self.step != Step.BRIEF or s.tree is None:
            return
        case, held = s.case(), {*s.lineup().pots, s.pot.id if s.pot else ""}
        pots = tuple(p for p in s.shelf if p.id in held)
        self.runner.start("sensitivity", lambda: sensitivity(case, pots), self.panel.brief.show_influences)

    def _drafted(self) -> None:
        """While something is dragged only the drawing and its figures follow."""
        if self.place == Place.BENCH:
            sheet = self.sheet.sheet
            if sheet is not None:
                sheet.update()
            self.sheet.refresh_title()
            self.panel.refresh()
        elif self.place == Place.SHELF:
            self.shelf.refresh()
        elif self.place == Place.WORKSHOP:
            self.workshop.drafted()

    def refresh_look(self) -> None:
        """Theme, units or text size changed."""
        self.setStyleSheet(style_sheet(self.session.theme))
        self.path.setFixedHeight(fonts.scaled(68))
        self.status.setFixedHeight(fonts.scaled(26))
        self.rail.refit()
        if "workshop" in self.__dict__:
            self.workshop.sheet.refit()
        for label in self.findChildren(Title):
            label.refit()
        for head in self.findChildren(SectionHead):
            head.refit()
        self._fold()
        self.refresh()
        for widget in self.findChildren(QWidget):
            widget.update()

    def _show_notes(self) -> None:
        s = self.session
        notes: dict[str, tuple[str, bool]] = {}
        tree = s.tree
        if tree is not None:
            height = tree.measure.height_mm
            notes[Step.TREE] = (f"{s.units.mm(height)} tall" if height else "not measured", height is not None)
            brief = s.collection.briefs.get(tree.id)
            notes[Step.BRIEF] = (s.case().school.name.lower() if brief else "not yet", brief is not None)
            lineup = s.collection.lineups.get(tree.id)
            chosen = s.collection.pots.get(lineup.chosen) if lineup and lineup.chosen else None
            words = chosen.name if chosen else f"{len(lineup.pots)} pots laid out" if lineup else "not yet"
            notes[Step.LINEUP] = (words, chosen is not None)
        self.path.show_step(self.step, notes)

    def _show_scale(self) -> None:
        sheet = self.sheet.sheet if self.place == Place.BENCH else None
        if self.sheet.step == Step.TREE and self.sheet.view == "photo":
            sheet = None
        self.status.px_mm = sheet.px_mm if sheet else self.shelf.px_mm if self.place == Place.SHELF else 0.0
        self.status.hand = ""
        by_grips = "G takes a grip   arrows move it   V next view   Z fits the sheet"
        self.status.keys = {
            (Place.BENCH, Step.TREE): "B brush   O cut-out   G takes a mark, arrows move it   Y years ahead"
            if self.sheet.view == "photo"
            else by_grips,
            (Place.BENCH, Step.BRIEF): "F1 key card   Ctrl+K commands   Z fits the sheet",
            (Place.BENCH, Step.LINEUP): by_grips
            if self.sheet.view == "roots"
            else "arrows move the choice   Space swaps   L lays over",
            (Place.WORKSHOP, Step.TREE): WORKSHOP_KEYS,
            (Place.WORKSHOP, Step.BRIEF): WORKSHOP_KEYS,
            (Place.WORKSHOP, Step.LINEUP): WORKSHOP_KEYS,
        }.get((self.place, self.step), "F1 key card   Ctrl+K commands")
        self.status.update()

    def _point(self, text: str) -> None:
        self.status.hand = text
        if self.status.message and not text.startswith("Pointer"):
            self.status.say("fits", "")
        self.status.update()

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

    def _count_findings(self) -> None:
        """The folded panel's handle tells of the pot that is looked at."""
        column = self.panel.lineup.in_hand() if self.step == Step.LINEUP else None
        a = column.assessment if column else self.session.assessment()
        grave = [f for f in (a.findings if a else ()) if f.status != "fits"]
        self.handle.show_count(a.verdict if a else "unknown", len(grave), open_=self._drawer_open)

    def _toggle_drawer(self) -> None:
        self._drawer_open = not self._drawer_open
        self._fold()

    def open_commands(self) -> None:
        """Every command in one box."""
        CommandBox(self, self.session.theme, self.do).open_over(self)

    def open_keys(self) -> None:
        """The key card."""
        KeyCard(self, self.session.theme).open_over(self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.key() != Qt.Key.Key_Escape or not self.runner.halt():
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.runner.stop()
        self.device.let_go()
        self.session.file.close()
        super().closeEvent(event)

    def settle(self) -> None:
        """Let background pictures arrive (for pictures of the window)."""
        for _ in range(4):
            QApplication.processEvents()
            self.runner.wait()
        QApplication.processEvents()
