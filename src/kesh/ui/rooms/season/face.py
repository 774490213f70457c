"""Season as it is shown: the chart and this week, who gets which pot, and the panel beside them."""

from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Finding
from kesh.advice.season.book import Book
from kesh.advice.season.season_findings import Said, season_findings, task_by_id
from kesh.advice.season.supplies import Supply, supplies
from kesh.advice.season.weekends import Weekend, jobs, weekends
from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.base.status import gravest
from kesh.base.words import counted
from kesh.base.writing import shown, write_bytes, write_text
from kesh.desk.season import matching, new_task, span_of
from kesh.model import Task
from kesh.store.collection_file import Change
from kesh.ui.hand.view import SheetView
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.season.panel import SeasonPanel
from kesh.ui.rooms.season.pots_panel import PotsPanel
from kesh.ui.rooms.season.pots_sheet import PotsSheet
from kesh.ui.rooms.season.sheet import SeasonSheet
from kesh.ui.rooms.task_hands import TaskHands
from kesh.ui.widgets.why_panel import Remedy

WEEKENDS = 8
CALENDARS, LISTS = "Calendar files (*.ics)", "Lists (*.csv)"
KEYS = "Left and Right walk the weeks   G takes a task   Home is today   Enter opens the tree"
HAND_KEYS = "Left and Right move it a day   Ctrl a week   G next task   Esc lets go"


class SeasonFace(Face):
    """Keeps chart, week and panel on one book."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s = context.session
        self.plan_sheet, self.plan_panel = PotsSheet(context), PotsPanel(context)
        self.desk, self.beside = SeasonSheet(s, context.gallery, room.views, self.plan_sheet), SeasonPanel(s)
        self.sheet, self.panel = self.desk, QStackedWidget()
        for panel in (self.beside, self.plan_panel):
            self.panel.addWidget(panel)
        self.search, self.findings = self.desk.search, self.beside.findings
        self.weeks: tuple[Weekend, ...] = ()
        self.said: tuple[Said, ...] = ()
        self.stock: tuple[Supply, ...] | None = None
        chart, week, box = self.desk.chart, self.desk.week, self.beside.in_hand
        self.desk.turned.connect(lambda key: self.show_view(key))
        self.search.textChanged.connect(lambda _: self.refresh())
        chart.laid.connect(lambda key, day: self.hands.lay(key, day))
        chart.picked.connect(self._take)
        chart.opened.connect(self._open)
        chart.pointed.connect(self.pointed)
        chart.drafted.connect(self._draft)
        week.picked.connect(self._take)
        week.ticked.connect(lambda key: self.hands.finish(key))
        self.hands = TaskHands(context, box, self._take)
        self.beside.calendar.connect(lambda: context.do("calendar_file"))
        self.beside.bars.wanted.connect(self._to_weekend)
        self.plan_sheet.picked.connect(self.plan_panel.show_tree)
        self.plan_panel.changed.connect(self.plan_sheet.show_plan)
        self.plan_panel.changed.connect(lambda book, *_: self._title(book))
        self.plan_panel.picked.connect(self.plan_sheet.take)
        self.plan_sheet.refused.connect(self.plan_panel.refuse)

    # --- what is shown

    @property
    def book(self) -> Book:
        """The book of now."""
        return self.session.book()

    def keys(self) -> str:
        if self.view == "pots":
            return "Up and Down walk the moves   Del strikes one out   F5 plans anew"
        return HAND_KEYS if self.desk.chart.task else KEYS

    def title(self) -> str:
        return self.desk.title.text()

    def drawing(self) -> SheetView | None:
        return None

    def worst(self) -> tuple[str, int]:
        grave = [x.status for x in self.said if x.status != "fits"]
        return gravest(grave), len(grave)

    def px_mm(self) -> float:
        return self.plan_sheet.px_mm if self.view == "pots" else 0.0

    def refresh(self) -> None:
        book = self.book
        if self.view == "pots":
            self.plan_panel.follow(book)
            self._title(book)
            return
        trees = matching(book, self.search.text() if self.search is not None else "")
        rows = {j.task.id: j for j in jobs(book, self.desk.chart.span.last, soil=False)}
        self.desk.chart.show_book(book, trees, rows)
        last = book.today + timedelta(weeks=WEEKENDS - 1)
        self.weeks = weekends(book, book.today, last, soil=False)
        self.beside.show_weeks(book, self.weeks)
        self.desk.week.show_week(book, [j for w in self.weeks for j in w.jobs])
        self.beside.habits.show_habits(book.habits)
        self.beside.round.show_book(book)
        self._show_hand()
        self._title(book)
        self._work_out(book, last)

    def _work_out(self, book: Book, last: date) -> None:
        """Litres, wire and findings come after: each pot's own plan is asked."""
        if self.stock is None:
            self.beside.show_stock(None)
        # what was short a moment ago is said until it is worked out anew, but not of trees that are gone
        stock = tuple(x for x in self.stock or () if all(t in book.c.trees for t in x.trees))
        self.said = season_findings(book, self.weeks, stock, thorough=False)
        self.beside.show_findings(self.said)

        def work() -> tuple[tuple[Weekend, ...], tuple[Supply, ...], tuple[Said, ...]]:
            weeks = weekends(book, book.today, last)
            found = supplies(book, [j for w in weeks for j in w.jobs])
            return weeks, found, season_findings(book, weeks, found)

        def arrived(answer: tuple[tuple[Weekend, ...], tuple[Supply, ...], tuple[Said, ...]]) -> None:
            if book is not self.book:
                return
            self.weeks, self.stock, self.said = answer
            self.beside.show_weeks(book, self.weeks)
            self.desk.week.show_week(book, [j for w in self.weeks for j in w.jobs])
            self.beside.show_stock(self.stock)
            self.beside.show_findings(self.said)

        self.context.runner.start_later("season/stock", work, arrived)

    def _title(self, book: Book) -> None:
        if self.view == "pots":
            self.desk.title.setText(self.plan_panel.title())
            self.desk.under.setText(self.plan_panel.under())
            return
        open_now = sum(1 for w in book.windows.values() if w.status == "best")
        soon = sum(
            1 for w in book.windows.values()
            if w.season.first is not None and 0 < (w.season.first - book.today).days <= 28
        )  # fmt: skip
        due = sum(1 for d in book.dues.values() if d.now)
        if not book.c.trees:
            self.desk.title.setText("No tree on the bench yet")
        elif open_now:
            self.desk.title.setText(f"{counted(open_now, 'window').capitalize()} open, {counted(due, 'tree')} due")
        elif soon:
            self.desk.title.setText(
                f"{counted(soon, 'window').capitalize()} open{'s' if soon == 1 else ''} within four weeks"
            )
        else:
            self.desk.title.setText(f"No window open; {counted(due, 'tree')} due in the next year")
        asked = len(book.asked())
        self.desk.under.setText(
            f"{book.today:%A} {book.today.day} {book.today:%B %Y}"
            + (f"; {counted(asked, 'sign')} asked" if asked else "")
        )

    def show_view(self, key: str) -> None:
        if key != "pots":
            self.desk.chart.show_span(span_of(key, self.session.today), close=key == "weeks")
        self.desk.show_view(key)
        self.panel.setCurrentWidget(self.plan_panel if key == "pots" else self.beside)  # type: ignore[attr-defined]
        super().show_view(key)
        self.refresh()

    def entered(self) -> None:
        self.desk.show_view(self.view)
        if self.view != "pots" and not self.desk.chart.trees:
            self.desk.chart.show_span(span_of(self.view, self.session.today), close=self.view == "weeks")
        self.refresh()
        (self.plan_sheet if self.view == "pots" else self.desk.chart).setFocus()

    def refit(self) -> None:
        self.beside.bars.refit()
        self.desk.fold()
        self.desk.search.setFixedWidth(self.desk.search.width())

    def file_changed(self) -> None:
        self.stock, self.said = None, ()
        self.desk.chart.task = ""
        self.plan_panel.forget()

    def arrive(self, **what: Any) -> None:
        if "task" in what:
            self._take(str(what["task"]))

    # --- hands

    def _task(self, key: str) -> Task | None:
        return task_by_id(self.book, key)

    def _take(self, key: str) -> None:
        self.desk.chart.show_task(key)
        self.desk.week.task = key
        self.desk.week.update()
        self.beside.bars.show_task(key)
        self._show_hand()
        self.turned.emit()

    def _show_hand(self) -> None:
        task = self._task(self.desk.chart.task)
        job = self.desk.chart.jobs.get(task.id) if task is not None else None
        self.beside.in_hand.show_task(self.book if task is not None else None, task, job)
        self.beside.own.show_task(task)

    def _draft(self, key: str, day: date) -> None:
        task = self._task(key)
        if task is not None:
            self.beside.in_hand.show_move(self.book, day)
            self.pointed.emit(self.beside.in_hand.moving.text())

    def _open(self, tree: str) -> None:
        self.session.choose_tree(tree)
        self.context.go("log")

    def assessment(self) -> None:
        """The season speaks of no single pot."""

    def remedy(self, finding: Finding) -> Remedy | None:
        said = next((x for x in self.said if x.code == finding.code), None)
        if said is None:
            return None
        task, day, kind = said.task, said.move_to, finding.code.split("/")[0]
        if task is not None and day is not None:
            return said.remedy.rstrip("."), lambda: self.hands.lay(task, day)
        if task is not None:
            return "Take it in hand", lambda: self._take(task)
        if kind == "short":
            return "Write the order list", lambda: self.context.do("order_list")
        if kind in ("order", "reserved", "chosen"):
            return "Look at the pot", lambda: self.context.go("shelf", pot=finding.code.split("/", 1)[1])
        return None

    def _to_weekend(self, day: date) -> None:
        week = self.beside.bars.week_of(day)
        if week is not None and week.jobs:
            self._take(week.jobs[0].task.id)

    # --- commands

    def write_calendar(self) -> None:
        """All tasks of a year from today as a calendar file."""
        from kesh.formats.ical import hand_over

        path = self.context.asker.save_file(
            self.context.desk.parent_widget(), "Write the calendar file", self.context.folder / f"{self.session.collection.name}.ics", CALENDARS
        )  # fmt: skip
        if path is not None:
            target = path.with_suffix(".ics") if path.suffix.lower() != ".ics" else path
            handed = hand_over(self.book, self.session.today, self.session.today + timedelta(days=365))
            write_bytes(target, handed.body)
            changes: list[Change] = [("calendar", key, None) for key in self.session.collection.calendar]
            self.session.edit("Calendar written", [*changes, *(("calendar", one.id, one) for one in handed.given)])
            self.context.say("fits", f"Written: {shown(target)}; bringing it in again changes entries and doubles none")

    def write_tasks(self) -> None:
        """Tasks and what has to be got, as a list."""
        from kesh.formats.lists.tasks import tasks_csv

        path = self.context.asker.save_file(
            self.context.desk.parent_widget(), "Write all tasks", Path(self.context.folder) / f"{self.session.collection.name} tasks.csv", LISTS
        )  # fmt: skip
        if path is not None:
            write_text(path.with_suffix(".csv"), tasks_csv(self.book))
            self.context.say("fits", f"Written: {shown(path.with_suffix('.csv'))}")

    def write_orders(self) -> None:
        """What has to be got for the coming weekends, as a list."""
        from kesh.formats.lists.tasks import orders_csv

        suggested = self.context.folder / f"{self.session.collection.name} to order.csv"
        path = self.context.asker.save_file(self.context.desk.parent_widget(), "Write the order list", suggested, LISTS)
        if path is None:
            return
        book, target = self.book, path.with_suffix(".csv")

        def work(progress: Progress) -> None:
            rows = [j for w in weekends(book, book.today, book.today + timedelta(weeks=WEEKENDS - 1)) for j in w.jobs]
            body = orders_csv(supplies(book, rows, progress), book)
            progress.finish()
            write_text(target, body)

        self.context.runner.start_long(
            "orders",
            "Working out what has to be got",
            work,
            lambda _: self.context.say("fits", f"Written: {shown(target)}"),
        )

    def print_week(self) -> None:
        """This week on paper, to tick."""
        from kesh.ui.paper.season import week_pdf

        self._print(f"week of {self.session.today.isoformat()}", lambda book: week_pdf(book))

    def print_month(self) -> None:
        """The month in sight on paper, as a calendar."""
        from kesh.ui.paper.season import month_pdf

        month = self.session.today
        self._print(f"{month:%B %Y}", lambda book: month_pdf(book, month))

    def _print(self, what: str, paint: Callable[[Book], bytes]) -> None:
        suggested = self.context.folder / f"{self.session.collection.name}, {what}.pdf".replace("/", "-")
        path = self.context.asker.save_file(self.context.desk.parent_widget(), "Print", suggested, "PDF (*.pdf)")
        if path is None:
            return
        book, target = self.book, path.with_suffix(".pdf")

        def work(progress: Progress) -> None:
            body = paint(book)
            progress.finish()
            write_bytes(target, body)

        self.context.runner.start_long(
            "print", f"Painting {shown(target)}", work, lambda _: self.context.say("fits", f"Printed: {shown(target)}")
        )

    def plan_pots(self) -> None:
        """Work the plan of pots out anew."""
        self.plan_panel.forget()
        self.context.go("season")
        self.show_view("pots")

    def add_task(self) -> None:
        """A task of two weeks from today for the tree in hand; its days are dragged or typed afterwards."""
        tree = self.desk.chart.tree if self.desk.chart.tree in self.session.collection.trees else self.session.tree_id
        if not tree:
            raise FieldError("tree", "there is no tree yet; add one on the bench")
        task = new_task(
            self.session.collection, tree, "look", self.session.today, self.session.today + timedelta(days=14), ""
        )
        if self.session.edit("Task added", [("task", task.id, task)]):
            self.context.go("season", task=task.id)
