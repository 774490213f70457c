"""The window at the bench: it shows one page, hears four keys and a few more, and writes every one of them at once."""

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.steps.step import WorkStep
from kesh.base.errors import KeshError
from kesh.desk.bench_trial import FILL, TRY, tried, used_note
from kesh.desk.bench_work import (
    STOP,
    at_page,
    begin,
    clock,
    in_or_out_of_water,
    misted,
    noted,
    pages,
    read,
    step_back,
    step_done,
    taken_on,
    ticked,
)
from kesh.desk.planting import shifted
from kesh.desk.potting import planned_figures
from kesh.model import Planting, Work
from kesh.ui.rooms.planting.bench.page import Key, Page, draw_page
from kesh.ui.session import Session
from kesh.ui.theme import fonts

TYPED = (TRY, FILL)


class AtBench(QWidget):
    """Covers its window, or stands on a second screen. `plan_of` and `planting_of` tell the plan as it is now."""

    left = pyqtSignal()
    finished = pyqtSignal()

    def __init__(
        self, session: Session, over: QWidget | None, plan_of: Callable[[], PlantingPlan | None], planting_of: Callable[[], Planting | None],
        now: Callable[[], datetime] = datetime.now,
    ) -> None:  # fmt: skip
        super().__init__(over)
        self.session, self._plan_of, self._planting_of, self.now = session, plan_of, planting_of, now
        self._over = over
        self.typed, self.said = "", ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("At the bench")
        self.note = QLineEdit(self)
        self.note.setAccessibleName("Note")
        self.note.setPlaceholderText("Type the note, Enter keeps it, Esc drops it")
        self.note.installEventFilter(self)
        self.note.hide()
        self._tick = QTimer(self)
        self._tick.setInterval(1000)
        self._tick.timeout.connect(self.update)
        session.changed.connect(self.update)
        session.said.connect(self._overhear)
        if over is not None:
            over.installEventFilter(self)

    # --- coming and going

    def open(self) -> bool:
        """Take up the work where it stands, or begin it; False where there is nothing to work on."""
        plan, planting = self._plan_of(), self._planting_of()
        if plan is None or planting is None:
            return False
        if not self._begin(plan, planting):
            return False
        screens = QGuiApplication.screens()
        if self._over is not None and len(screens) > 1:
            # a second screen by the bench shows the work, the first keeps the plan
            self.setParent(None)
            self.setGeometry(screens[1].geometry())
            self.showFullScreen()
        elif self._over is not None:
            if self.parent() is None:
                self.setParent(self._over)
            self.setGeometry(self._over.rect())
            self.show()
            self.raise_()
        self._tick.start()
        self.setFocus()
        return True

    def _begin(self, plan: PlantingPlan, planting: Planting) -> bool:
        work = self.work()
        if work is not None and work.pot == plan.a.pot.id:
            return True
        made = begin(plan, planting, planned_figures(plan), self.now())
        return self.session.edit("Work begun", [("work", made.id, made), ("planting", planting.id, planting)])

    def leave(self) -> None:
        """Back to the plan; the work stays where it is."""
        self._tick.stop()
        self.hide()
        self.left.emit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if (
            event is not None
            and watched is self._over
            and event.type() == QEvent.Type.Resize
            and self.isVisible()
            and self.parent() is not None
        ):
            assert self._over is not None
            self.setGeometry(self._over.rect())
        if watched is self.note and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            # the field would hand these on, and the bench would take them for "done"
            if event.key() == Qt.Key.Key_Escape:
                self._close_note()
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._keep_note()
                return True
        return super().eventFilter(watched, event)

    # --- what is shown

    def work(self) -> Work | None:
        """The work on the tree in hand."""
        return self.session.collection.works.get(self.session.tree_id)

    def shown(self) -> tuple[WorkStep, ...]:
        """All pages."""
        plan = self._plan_of()
        return pages(plan) if plan is not None else ()

    def step(self) -> WorkStep | None:
        """The page in sight; None when all is done."""
        work, shown = self.work(), self.shown()
        if work is None or not shown:
            return None
        at = at_page(work, shown)
        return shown[at] if at < len(shown) else None

    def page(self) -> Page | None:
        """Everything the picture shows now."""
        plan, work, shown = self._plan_of(), self.work(), self.shown()
        if plan is None or work is None or not shown:
            return None
        at = min(at_page(work, shown), len(shown) - 1)
        step = shown[at]
        told = clock(work, plan, self.now())
        reading = not read(work, step)
        return Page(
            plan.a.case.tree.name, plan.a.pot.name, shown, at, step, told, self._keys(shown, at, reading=reading), reading, self.typed,
            self._asks(step) if self.typed or step.key == TRY else "", frozenset(work.tests), len(work.notes), work.warm, work.windy, self.said,
        )  # fmt: skip

    def _asks(self, step: WorkStep) -> str:
        """What a figure typed at this step is."""
        u = self.session.units
        words = {
            TRY: f"{u.length} over the rim: Enter",
            FILL: f"{'quarts' if u.volume == 'quart' else 'l'} used in all, if you know it: Enter",
        }
        return words.get(step.key, "")

    def _keys(self, shown: tuple[WorkStep, ...], at: int, *, reading: bool) -> tuple[Key, ...]:
        work = self.work()
        assert work is not None
        if reading:
            first = Key("Space", "I read it", "kept in the record")
        elif at + 1 >= len(shown):
            first = Key("Space", "it is potted", "write it all down")
        else:
            told = f"1 to {len(shown[at].checks)} tick" if shown[at].checks else f"go to step {at + 2}"
            first = Key("Space", "done", told)
        water = Key("P", "out of it", "clock goes on") if work.in_water else Key("P", "in water", "clock rests")
        notes = f"{len(work.notes)} typed so far" if work.notes else "typed; Enter keeps it"
        return first, Key("M", "misted", "clock to 0"), water, Key("N", "note", notes)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        plan, page = self._plan_of(), self.page()
        if plan is None or page is None:
            p.fillRect(self.rect(), self.session.theme.color("sheet"))
            return
        draw_page(p, plan, page, self.session.theme, self.width(), self.height())
        self.setAccessibleDescription(
            f"Step {page.at + 1} of {len(page.steps)}: {page.step.title}. {page.clock.bare_min:.0f} minutes bare. {self.said}"
        )

    def _overhear(self, status: str, text: str) -> None:
        """What the window says of something that went wrong is covered by the bench: it is told here."""
        if status == "no" and self.isVisible():
            self.say(text)

    def say(self, text: str) -> None:
        """A sentence where it is seen."""
        self.said = f"{text[:1].upper()}{text[1:]}"
        self.update()

    # --- keys

    def event(self, event: QEvent | None) -> bool:
        # plain keys are the bench's own here, not shortcuts of the window behind it
        plain = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.modifiers() in plain:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, text = event.key(), event.text()
        if key == Qt.Key.Key_Escape:
            if self.typed:
                self.typed = ""
                self.update()
            else:
                self.leave()
            return
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.typed:
            self._enter_figure()
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_PageDown):
            if not event.isAutoRepeat():
                self._done()
        elif key == Qt.Key.Key_Backspace:
            if self.typed:
                self.typed = self.typed[:-1]
            else:
                self._change("Step opened again", lambda w: step_back(w, self.shown(), self.now()))
        elif key == Qt.Key.Key_M:
            self._change("Misted", lambda w: misted(w, self.now()))
        elif key == Qt.Key.Key_P:
            self._change("Water", lambda w: in_or_out_of_water(w, self.now()))
        elif key == Qt.Key.Key_N:
            self._open_note()
        elif key == Qt.Key.Key_H:
            self._change("Warm", lambda w: w.changed(warm=not w.warm))
        elif key == Qt.Key.Key_W:
            self._change("Wind", lambda w: w.changed(windy=not w.windy))
        elif text and text in "0123456789.,-":
            self._type(text.replace(",", "."))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._nudge(Qt.Key(key))
        else:
            super().keyPressEvent(event)
            return
        self.update()

    def _type(self, text: str) -> None:
        step, work = self.step(), self.work()
        if step is not None and step.checks and text.isdigit() and work is not None:
            n = int(text) - 1
            if 0 <= n < len(step.checks):
                self._change("Test", lambda w: ticked(w, step.checks[n]))
            return
        if step is not None and step.key in TYPED:
            self.typed = (self.typed + text)[:8]

    def _nudge(self, key: Qt.Key) -> None:
        """While it is set the trunk still moves, and the plan with it."""
        step, planting = self.step(), self._planting_of()
        if step is None or step.key != "set" or planting is None:
            return
        dx, dy = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}[
            key
        ]
        try:
            moved = shifted(planting, "trunk", float(dx), float(dy))
        except KeshError as err:
            self.said = str(err)
            return
        self.session.edit("Trunk moved at the bench", [("planting", moved.id, moved)])

    def _done(self) -> None:
        step, work = self.step(), self.work()
        if work is None:
            return
        self.said, self.typed = "", ""
        if step is None:
            self.finished.emit()
            return
        if not read(work, step):
            self._change("Cautions read", lambda w: taken_on(w, step))
            if step.key != STOP:
                return
        last = self.shown()[-1].key == step.key
        self._change(f"Done: {step.title}", lambda w: step_done(w, step, self.now()))
        if last:
            self.finished.emit()

    def _enter_figure(self) -> None:
        plan, planting, work, step = self._plan_of(), self._planting_of(), self.work(), self.step()
        text, self.typed = self.typed, ""
        if plan is None or planting is None or work is None or step is None:
            return
        try:
            if step.key == TRY:
                value = self.session.units.parse_mm(text, "the figure")
                changes, found = tried(work, plan, planting, value, self.session.today, self.now())
                if self.session.edit("Trial fit", changes):
                    self.said = "" if found.seated else found.words(self.session.units)
            elif step.key == FILL:
                note = used_note(self.session.units.parse_litres(text, "the litres"))
                self._change(f"Done: {step.title}", lambda w: step_done(w, step, self.now(), note))
        except KeshError as err:
            self.say(str(err))

    def _change(self, label: str, make: Callable[[Work], Work]) -> None:
        work = self.work()
        if work is None:
            return
        try:
            changed = make(work)
        except KeshError as err:
            self.said = f"{str(err)[:1].upper()}{str(err)[1:]}"
            self.update()
            return
        self.said = ""
        if not self.session.edit(label, [("work", changed.id, changed)]):
            self.said = "It could not be written: free some room on the disk. The work goes on here."
        self.update()

    # --- notes

    def _open_note(self) -> None:
        self.note.setFont(fonts.text(22))
        self.note.setGeometry(32, self.height() - round(0.155 * self.height()) - 64, self.width() - 64, 52)
        self.note.show()
        self.note.raise_()
        self.note.setFocus()

    def _keep_note(self) -> None:
        text = self.note.text()
        self._close_note()
        self._change("Note", lambda w: noted(w, text))

    def _close_note(self) -> None:
        self.note.clear()
        self.note.hide()
        self.setFocus()
