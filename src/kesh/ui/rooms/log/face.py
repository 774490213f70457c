"""Step Log as it is shown: life, this year, the years ahead, the list; one panel beside them."""

from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Assessment, Finding
from kesh.advice.season.book import Book
from kesh.advice.season.due import MOST_TOLD
from kesh.advice.season.lessons import last_planned
from kesh.advice.season.life import Life
from kesh.advice.season.life_findings import life_findings
from kesh.advice.season.pot_years import PotYears, pot_years
from kesh.advice.season.season_findings import task_by_id
from kesh.advice.season.strain_ledger import WORDS, load_of
from kesh.base.errors import KeshError
from kesh.base.progress import Progress
from kesh.base.status import gravest
from kesh.base.words import counted
from kesh.model import Event, Task, TreePhoto
from kesh.photo.cutout import CutOut
from kesh.ui.hand.view import SheetView
from kesh.ui.photos_in import ask_photo, photo_pasted
from kesh.ui.rooms.log.ahead_sheet import AheadSheet
from kesh.ui.rooms.log.life_sheet import LifeSheet
from kesh.ui.rooms.log.list_sheet import ListSheet, entries
from kesh.ui.rooms.log.over_sheet import OverSheet
from kesh.ui.rooms.log.panel import LogPanel
from kesh.ui.rooms.log.year_sheet import YearSheet
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.task_hands import TaskHands
from kesh.ui.widgets.why_panel import Remedy

KEYS = {
    "life": "Left and Right walk the entries   V next view   Z fits the sheet", "year": "Up and Down walk the steps   V next view",
    "ahead": "V next view   Z fits the sheet", "over": "Left and Right fade   Space swaps the two   Up and Down take another", "list": "Up and Down walk the entries   Ctrl+F finds",
}  # fmt: skip


class LogFace(Face):
    """Keeps four views on one tree's life."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s = context.session
        self.life_sheet, self.year_sheet = LifeSheet(s, context.gallery), YearSheet(s, context.gallery)
        self.ahead_sheet, self.list_sheet = AheadSheet(s, context.gallery), ListSheet(s)
        self.over_sheet = OverSheet(s, context.gallery, self._cut_of)
        self.sheets = QStackedWidget()
        self.by_view = {
            "life": self.life_sheet,
            "over": self.over_sheet,
            "year": self.year_sheet,
            "ahead": self.ahead_sheet,
            "list": self.list_sheet,
        }
        for part in self.by_view.values():
            self.sheets.addWidget(part)
        self.beside = LogPanel(s)
        self.sheet, self.panel = self.sheets, self.beside
        self.search, self.findings = self.list_sheet.search, self.beside.findings
        self.event_id = self.task_id = ""
        self._cut_asked: set[str] = set()
        context.cutter.done.connect(self._cut_next)
        self._kept: tuple[Book | None, str, Life | None] = (None, "", None)
        self._plan: tuple[Book | None, str, PotYears | None, str] = (None, "", None, "")
        self.life_sheet.picked.connect(self._pick)
        self.list_sheet.picked.connect(self._pick)
        self.year_sheet.picked.connect(self._take)
        self.hands = TaskHands(context, self.beside.task)
        self.beside.asked.connect(lambda _: self._next_asked())
        self.beside.entry.deleted.connect(self._delete)
        self.beside.box.photo_wanted.connect(self._photo)

    def _photo(self, way: str) -> None:
        """A picture for the entry that is being written."""
        take = self.beside.box.take_photo
        try:
            if way == "file":
                ask_photo(self.context, "side", take)
            else:
                photo_pasted(self.context, "side", take)
        except KeshError as err:
            self.context.say("no", str(err))

    def _cut_of(self, photo: TreePhoto) -> CutOut | None:
        try:
            return self.context.darkroom.cutout(photo)
        except KeshError:
            return None

    def _cut_next(self) -> None:
        """Whatever is not cut out yet of the two photographs in sight."""
        photo = self.over_sheet.wanted() if self.view == "over" else None
        self.over_sheet.busy = photo is not None and photo.soil is not None
        if photo is not None and photo.id not in self._cut_asked:
            self._cut_asked.add(photo.id)
            try:
                self.context.cutter.cut_when_due(photo, asked=True)
            except KeshError as err:
                self.context.say("no", str(err))
        elif photo is not None:
            self.over_sheet.busy = False
        self.over_sheet.refit()
        self.over_sheet.update()

    # --- what is in hand

    def life(self) -> Life | None:
        """The life of the tree in hand, the same object while nothing changed."""
        s, book = self.session, self.session.book()
        if s.tree is None:
            return None
        if self._kept[0] is not book or self._kept[1] != s.tree_id:
            self._kept = book, s.tree_id, Life(book, s.tree)
        return self._kept[2]

    def list_events(self) -> list[Event]:
        """What the list shows of the tree in hand."""
        return entries(self.life())

    def _event(self) -> Event | None:
        life = self.life()
        return next((e for e in life.events if e.id == self.event_id), None) if life is not None else None

    def _task(self) -> Task | None:
        book, tree = self.session.book(), self.session.tree_id
        found = task_by_id(book, self.task_id)
        if found is not None and found.tree == tree and book.state(found) not in ("done", "skipped"):
            return found
        asked = book.asked(tree)
        running = [
            t for t in book.tasks_of.get(tree, ()) if book.state(t) in ("running", "extended") and t.event is not None
        ]
        return asked[0] if asked else running[0] if running else None

    def assessment(self) -> Assessment | None:
        return None

    def worst(self) -> tuple[str, int]:
        life = self.life()
        grave = [f.status for f in life_findings(life) if f.status != "fits"] if life is not None else []
        return gravest(grave), len(grave)

    def remedy(self, finding: Finding) -> Remedy | None:
        """Where a finding can be mended: the bench's year, the entry, or the measures."""
        life = self.life()
        if life is None:
            return None
        if finding.code == "full":
            repot = next((t for t in self.session.book().tasks_of.get(life.tree.id, ()) if t.kind == "repot"), None)
            brought = {"task": repot.id} if repot is not None else {}
            return "See when it is due", lambda: self.context.go("season", **brought)
        if finding.code == "as_planned":
            event = last_planned(life.events)
            return ("Look at the entry", lambda: self._pick(event.id)) if event is not None else None
        if finding.code == "strain_unknown":
            bare = [e for e in life.events if e.kind in WORDS and load_of(e) is None]
            return ("Take the entry in hand", lambda: self._pick(bare[-1].id)) if bare else None
        return None

    def title(self) -> str:
        life = self.life()
        if life is None:
            return "No tree yet"
        book, due = self.session.book(), self.session.book().dues[life.tree.id]
        if self.view == "year":
            asked, rows = len(book.asked(life.tree.id)), len(self.year_sheet.tasks)
            return (
                f"{counted(asked, 'sign').capitalize()} asked, {counted(rows, 'step')} in all"
                if asked
                else f"{counted(rows, 'step').capitalize()} along the year"
            )
        if self.view == "ahead":
            plan = self._plan[2]
            move = plan.next_move if plan is not None else None
            if plan is None:
                return "Pots over the years ahead"
            return f"Next: {move[1].name} in {move[0]}" if move is not None else "It stays in its pot"
        if self.view == "over":
            n = len(self.over_sheet.photos)
            return (
                "Then and now, one scale"
                if n > 1
                else "Two photographs with a scale lie over each other here"
                if n == 0
                else "One photograph; a second lies over it"
            )
        if self.view == "list":
            return f"{counted(len(life.events), 'entry').capitalize()}"
        if due.day is None:
            return f"{counted(len(life.events), 'entry').capitalize()}; when it is due is not known"
        when = f"{due.day:%b %Y}" if due.day > book.today else "now"
        if due.fill is None:
            return f"Due {when}"
        full = f"over {MOST_TOLD:.0%}" if due.fill >= MOST_TOLD else f"{due.fill:.0%}"
        return f"Due {when}, roots {full} full"

    def drawing(self) -> SheetView | None:
        part = self.by_view[self.view]
        return part if isinstance(part, SheetView) else None

    def px_mm(self) -> float:
        part = self.by_view[self.view]
        return part.px_mm if isinstance(part, LifeSheet | AheadSheet | OverSheet) else 0.0

    def keys(self) -> str:
        return KEYS[self.view]

    # --- following

    def refresh(self) -> None:
        book, life, event = self.session.book(), self.life(), self._event()
        task = self._task()
        self.task_id = task.id if task is not None else ""
        if self.view == "life":
            self.life_sheet.show_life(life, self.event_id)
        elif self.view == "year":
            self.year_sheet.show_book(book if life is not None else None, self.session.tree_id, self.task_id)
        elif self.view == "list":
            self.list_sheet.rows.money = self.session.money
            self.list_sheet.show_life(life, self.event_id)
        elif self.view == "over":
            self.over_sheet.show_photos(self.session.collection.sides_of(self.session.tree_id), life)
            self._cut_next()
        else:
            self._work_out(book)
        self.beside.show_life(book, life, event, task)

    def _work_out(self, book: Book) -> None:
        tree = self.session.tree_id
        if self._plan[0] is book and self._plan[1] == tree:
            self.ahead_sheet.show_plan(book, self._plan[2], self._plan[3])
            return
        if self.session.tree is None:
            self.ahead_sheet.show_plan(None, None, "No tree yet. Add one in step 1.")
            return
        self.ahead_sheet.show_plan(book, None, "Judging every pot in every year …")

        def work(progress: Progress) -> tuple[PotYears | None, str]:
            try:
                return pot_years(book, tree, tick=progress.at), ""
            except KeshError as err:
                return None, f"{str(err)[0].upper()}{str(err)[1:]}."

        def arrived(answer: tuple[PotYears | None, str]) -> None:
            if book is self.session.book() and tree == self.session.tree_id:
                self._plan = (book, tree, *answer)
                self.ahead_sheet.show_plan(book, *answer)
                self.turned.emit()

        self.context.runner.start_long("log/ahead", "Pots over the years", work, arrived)

    def show_view(self, key: str) -> None:
        self.sheets.setCurrentWidget(self.by_view[key])
        super().show_view(key)
        self.refresh()
        self.turned.emit()

    def entered(self) -> None:
        self.show_view(self.view)

    def tree_changed(self) -> None:
        self.event_id = self.task_id = ""

    def file_changed(self) -> None:
        self._kept, self._plan = (None, "", None), (None, "", None, "")
        self.event_id = self.task_id = ""

    def arrive(self, **what: Any) -> None:
        if "event" in what:
            self._pick(str(what["event"]))

    # --- hands

    def _pick(self, key: str) -> None:
        self.event_id = "" if key == self.event_id else key
        self.refresh()
        self.turned.emit()

    def _take(self, key: str) -> None:
        self.task_id = key
        self.refresh()

    def _next_asked(self) -> None:
        book, tree = self.session.book(), self.session.tree_id
        rows = [*book.asked(tree)] or [
            t for t in book.tasks_of.get(tree, ()) if book.state(t) in ("running", "extended") and t.event is not None
        ]
        if rows:
            keys = [t.id for t in rows]
            at = keys.index(self.task_id) if self.task_id in keys else -1
            self._take(keys[(at + 1) % len(keys)])

    def _delete(self, key: str) -> None:
        self.event_id = ""
        if self.session.edit("Entry deleted", [("event", key, None)]):
            self.context.say("fits", "Entry deleted; Ctrl+Z brings it back")

    # --- commands

    def write_down(self) -> None:
        """The main action of the panel."""
        self.beside.write.click()

    def write_events(self) -> None:
        """The log of all trees as a list."""
        from kesh.base.writing import shown, write_text
        from kesh.formats.lists.events import events_csv

        path = self.context.asker.save_file(
            self.context.desk.parent_widget(), "Write the log", self.context.folder / f"{self.session.collection.name} log.csv", "Lists (*.csv)"
        )  # fmt: skip
        if path is not None:
            write_text(path.with_suffix(".csv"), events_csv(self.session.collection))
            self.context.say("fits", f"Written: {shown(path.with_suffix('.csv'))}")
