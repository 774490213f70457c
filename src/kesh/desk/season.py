"""Place Season without a window: the span of days in sight, each tree's row of bars, and edits of tasks."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from kesh.advice.season.asking import CLOSED, Sign, answer_to
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import Job
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Event, Task
from kesh.model.events import EventKind
from kesh.science.season.days import later
from kesh.science.season.season import MONTHS, day_words
from kesh.store.collection_file import Change

Look = Literal["window", "work", "care", "feed", "cover", "look", "ends"]
SPANS = {"year": 365, "quarter": 92, "weeks": 44}
# so much of the span lies before today
BEFORE_SHARE = 0.09
UPPER, LOWER = 0, 1
# a step of aftercare is drawn under its own name in the close view, in the others all of them are one bar
GRAVEST = (
    "rot_check",
    "frost_protection",
    "shade",
    "wind_shelter",
    "misting",
    "keep_still",
    "water_rhythm",
    "no_fertiliser",
)
# what a done task writes into the log
LOGGED: dict[str, EventKind] = {
    "prune": "pruned", "pinch": "pruned", "wire": "wired", "bend": "wired", "defoliate": "defoliated", "feed": "fed", "first_feed": "fed",
    "bring_in": "moved", "bring_out": "moved", "look": "seen", "photograph": "seen", "inspect_new": "seen", "look_closer": "seen",
}  # fmt: skip


@dataclass(frozen=True)
class Mark:
    """One bar or mark of a row: its days, how it is drawn, its words, and the task it stands for."""

    first: date
    last: date
    look: Look
    words: str
    lane: int
    task: str | None = None
    open_now: bool = False
    day: date | None = None
    note: str = ""


@dataclass(frozen=True)
class RowState:
    """A tree's row: its marks, and one line of what matters next."""

    tree: str
    line: str
    status: str
    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class Span:
    """The days in sight."""

    first: date
    days: int

    @property
    def last(self) -> date:
        """The last day in sight."""
        return later(self.first, self.days - 1)

    def share(self, day: date) -> float:
        """Where a day lies, 0 at the left edge, 1 at the right."""
        return (day - self.first).days / self.days

    def day_at(self, share: float) -> date:
        """The day at a share of the width."""
        return later(self.first, int(share * self.days // 1))

    def months(self) -> list[tuple[date, str]]:
        """The first days of months in sight with their names; January carries its year."""
        found = []
        at = self.first.replace(day=1)
        while at <= self.last:
            if at >= self.first or self.days > 60:
                found.append((max(at, self.first), MONTHS[at.month - 1] + (f" {at.year}" if at.month == 1 else "")))
            at = (at + timedelta(days=32)).replace(day=1)
        return found

    def moved(self, days: int) -> "Span":
        """Days earlier or later, within what a calendar holds."""
        try:
            return Span(self.first + timedelta(days=days), self.days)
        except OverflowError:
            return self


def span_of(view: str, today: date) -> Span:
    """The span of a view about a day: most of it lies ahead."""
    days = SPANS.get(view, SPANS["year"])
    first = later(today, -int(days * BEFORE_SHARE))
    if view == "year":
        first = first.replace(day=1)
    if view == "weeks":
        first = later(first, -first.weekday())
    return Span(first, days)


def matching(book: Book, needle: str) -> list[str]:
    """Trees by name, species, pot, mix, or what is due, in the order of the collection."""
    words = needle.strip().lower()
    return [t for t in book.c.trees if not words or words in searched(book, t)]


def searched(book: Book, tree: str) -> str:
    """All that a tree is found by."""
    one, planting = book.c.trees[tree], book.now.get(tree)
    species = book.species(one)
    parts = [one.name, (one.species or "").replace("_", " "), species.common_name if species is not None else ""]
    if planting is not None:
        pot, mix = book.c.pots.get(planting.pot), book.c.mixes.get(planting.mix or "")
        parts += [pot.name if pot is not None else "", mix.name if mix is not None else ""]
    target = book.target(tree)
    if target is not None:
        parts.append(book.c.pots[target].name)
    parts += [kind_of(t.kind).words for t in book.tasks_of.get(tree, ()) if t.state not in CLOSED]
    return " ".join(parts).lower()


def row_of(book: Book, tree: str, span: Span, jobs: dict[str, Job], *, close: bool) -> RowState:
    """One tree's row. `close` draws every step of aftercare by itself."""
    marks: list[Mark] = []
    care: list[Task] = []
    tasks = [t for t in book.tasks_of.get(tree, ()) if t.state not in CLOSED]
    for task in tasks:
        first, last = task.from_ or task.to, task.to or task.from_
        if first is None or last is None or last < span.first or first > span.last:
            continue
        kind = kind_of(task.kind)
        if kind.sort == "care" and not close:
            care.append(task)
            continue
        marks.append(_mark(book, task, first, last, jobs.get(task.id)))
    if care:
        marks.append(_care(care, book.today))
    window, due = book.windows.get(tree), book.dues[tree]
    if window is not None and not any(t.kind == "repot" for t in tasks):
        season = window.season
        if (
            season.first is not None
            and season.last is not None
            and season.first <= span.last
            and season.last >= span.first
        ):
            note = (
                f"not due before {due.day.year}"
                if due.day is not None and due.day.year > season.first.year
                else "not due"
            )
            marks.append(Mark(season.first, season.last, "window", note, UPPER))
    line, status = next_line(book, tree)
    return RowState(tree, line, status, tuple(sorted(marks, key=lambda m: (m.lane, m.first, m.last))))


def _mark(book: Book, task: Task, first: date, last: date, job: Job | None) -> Mark:
    kind = kind_of(task.kind)
    open_now = book.state(task) in ("running", "asked", "extended")
    if task.kind == "leave_interim":
        pot = book.c.pots.get(task.pot or "")
        return Mark(
            last, last, "ends", f"{pot.name if pot is not None else 'pot'} until {day_words(last)}", LOWER, task.id
        )
    if kind.sort == "work":
        day = job.day if job is not None else task.day
        return Mark(first, last, "work", kind.short, UPPER, task.id, open_now, day, _sign(task))
    if kind.sort == "look":
        return Mark(
            first, last, "look", task.text.rstrip(".") if len(task.text) <= 26 else kind.short, LOWER, task.id, open_now
        )
    look: Look = "feed" if kind.sort == "feed" else "cover" if kind.sort == "cover" else "care"
    return Mark(first, last, look, kind.short, LOWER if look != "care" else UPPER, task.id, open_now)


def _sign(task: Task) -> str:
    return task.sign.split(";")[0].split(",")[0].strip().rstrip(".").lower() if task.kind == "repot" else ""


def _care(tasks: Sequence[Task], today: date) -> Mark:
    """All steps of aftercare as one bar, named by the gravest of now."""
    firsts, lasts = [t.from_ for t in tasks if t.from_], [t.to for t in tasks if t.to]
    # what lasts for seasons, such as wiring, is no bar of shade
    near = [t for t in tasks if t.to is not None and t.from_ is not None and t.kind in GRAVEST]
    now = (
        [t for t in near if t.from_ is not None and t.to is not None and t.from_ <= today <= t.to]
        or near
        or list(tasks)
    )
    name = min(now, key=lambda t: GRAVEST.index(t.kind) if t.kind in GRAVEST else 99)
    last = max((t.to for t in near if t.to), default=max(lasts, default=today))
    return Mark(min(firsts, default=today), last, "care", kind_of(name.kind).short, UPPER, name.id, open_now=bool(now))


def next_line(book: Book, tree: str) -> tuple[str, str]:
    """(what matters next for a tree in a few words, how grave it is)."""
    rows = [t for t in book.tasks_of.get(tree, ()) if t.state not in CLOSED]
    asked = [t for t in rows if book.state(t) == "asked"]
    if asked:
        first = asked[0]
        late = kind_of(first.kind).sort == "work" and first.to is not None and first.to < book.today
        return (
            f"Late: {kind_of(first.kind).short}" if late else f"{kind_of(first.kind).words}: look"
        ), "no" if late else "watch"
    repot = next((t for t in rows if t.kind == "repot"), None)
    if repot is not None and repot.from_ is not None and repot.to is not None:
        blocks = book.blocks(tree)
        if blocks:
            return f"Repot: {blocks[0]}", "watch"
        if book.state(repot) == "running":
            return f"Repot by {day_words(repot.to)}", "fits"
        return f"Repot from {day_words(repot.from_)}", ""
    running = [
        t for t in rows if book.state(t) in ("running", "extended") and kind_of(t.kind).sort in ("care", "cover")
    ]
    if running:
        first = min(running, key=lambda t: t.to or date.max)
        return f"{kind_of(first.kind).words} until {day_words(first.to)}" if first.to else kind_of(first.kind).words, ""
    ahead = [t for t in rows if t.from_ is not None and t.from_ >= book.today and t.kind != "feed"]
    if ahead:
        first = min(ahead, key=lambda t: t.from_ or date.max)
        return f"{kind_of(first.kind).words} from {day_words(first.from_ or book.today)}", ""
    due = book.dues[tree]
    return (
        f"Rests; due {due.day.year}" if due.day is not None else due.unknown.capitalize()
    ), "" if due.day is not None else "unknown"


# --- edits -----------------------------------------------------------------------------------------------------------


def moved_to(task: Task, day: date | None, today: date) -> list[Change]:
    """The task laid for a day; none gives the day back to Kesh. Raises FieldError."""
    said = answer_to(task, "moved", today, to=day)
    return [("answer", said.id, said)]


def with_answer(c: Collection, task: Task, answer: Sign, day: date) -> list[Change]:
    """What an answer to "has the sign come?" writes: itself, and a line in the log. Raises FieldError."""
    words = {"yes": "yes", "not_yet": "not yet", "worse": "worse"}[answer]
    event = Event.made(
        id=fresh_id({e.id for e in c.events}, f"said-{task.tree}"), tree=task.tree, date=day, kind="aftercare",
        text=f"{kind_of(task.kind).words}: {task.sign or 'has it come?'} {words}."[:4000],
    )  # fmt: skip
    said = answer_to(task, answer, day)
    return [("answer", said.id, said), ("event", event.id, event)]


def done(c: Collection, task: Task, day: date) -> list[Change]:
    """The task done, with a line in the log where its kind belongs there. Raises FieldError."""
    said = answer_to(task, "yes", day, minutes=task.minutes)
    changes: list[Change] = [("answer", said.id, said)]
    kind = LOGGED.get(task.kind)
    if kind is not None:
        event = Event.made(
            id=fresh_id({e.id for e in c.events}, f"{kind}-{task.tree}"), tree=task.tree, date=day, kind=kind, text=task.text, minutes=task.minutes
        )  # fmt: skip
        changes.append(("event", event.id, event))
    if task.kind == "leave_interim":
        held = c.planting_of(task.tree)
        if held is not None:
            changes.append(("planting", held.id, held.changed(interim_until=None)))
    return changes


def left_out(task: Task, reason: str, day: date) -> list[Change]:
    """The task skipped with its reason. Raises FieldError."""
    said = answer_to(task, "left_out", day, note=reason)
    return [("answer", said.id, said)]


def new_task(c: Collection, tree: str, kind: str, first: date, last: date, text: str) -> Task:
    """A task of the user's own. Raises FieldError."""
    return Task.made(
        id=fresh_id({t.id for t in c.tasks}, f"own-{tree}"), tree=tree, kind=kind, to=last, text=text, **{"from": first}
    )
