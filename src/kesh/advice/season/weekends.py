"""Work over the weekends: when each job is done, hours and soil against what the user gives, and what a moved job changes."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from kesh.advice.assess import glance
from kesh.advice.case import case_for, season_planned
from kesh.advice.planting.soil_batch import soil_batch
from kesh.advice.roots.this_year import this_year
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.base.errors import KeshError
from kesh.base.words import counted
from kesh.model import Away, Task
from kesh.science.roots.time import LIFT, LIFT_L, PLANT, PLANT_L, combing_minutes
from kesh.science.season.days import later

WEEK = timedelta(days=7)
# a window open for longer is only looked at so far
FARTHEST_DAYS = 400
# minutes to lay out, clear away and clean up [J]
BASE_MINUTES = 30.0


@dataclass(frozen=True)
class Job:
    """A task of a day: when it is done, whether the user set that day, its hours and the fresh soil it takes."""

    task: Task
    day: date
    own_day: bool
    hours: float
    soil_l: float | None


@dataclass(frozen=True)
class Weekend:
    """A week's jobs by its Saturday; what is done on a weekday counts to the weekend that ends it."""

    date: date
    jobs: tuple[Job, ...]
    gives_hours: float

    @property
    def hours(self) -> float:
        """All of them."""
        return sum(job.hours for job in self.jobs)

    @property
    def soil_l(self) -> float:
        """Fresh mix of all jobs of which it is known."""
        return sum(job.soil_l or 0.0 for job in self.jobs)

    @property
    def over_hours(self) -> float:
        """More than the user gives."""
        return max(self.hours - self.gives_hours, 0.0)


def saturday_of(day: date) -> date:
    """The Saturday of the week that a day lies in, Monday first."""
    return later(day, 5 - day.weekday())


# a root mass whose form is not known: its length and width by its depth [J]
LONG, WIDE = 3.0, 2.2


def repot_minutes(soil_l: float | None) -> float:
    """To lift, comb, plant and clear away, by the litres of the pot; without them a kind's usual time."""
    if soil_l is None:
        return kind_of("repot").minutes
    deep_cm = (1000 * soil_l / (LONG * WIDE)) ** (1 / 3)
    comb = float(combing_minutes(deep_cm, 2 * (LONG + WIDE) * deep_cm / 100))
    return BASE_MINUTES + LIFT + LIFT_L * soil_l + comb + PLANT + PLANT_L * soil_l


def soil_to_mix_l(book: Book, tree: str, pot: str | None) -> float | None:
    """Mix to measure out for a repotting into a pot, with what sinks and is spilled; None where it cannot be reckoned. Found once."""
    if pot is None or pot not in book.c.pots:
        return None
    key = f"soil/{tree}/{pot}"
    if key not in book.kept:
        try:
            batch = soil_batch(
                glance(
                    case_for(book.c, tree, pot_id=pot, on=book.today, season=season_planned(book.c, tree)),
                    book.c.pots[pot],
                )
            )
            book.kept[key] = batch.total_l if batch is not None and batch.total_l > 0 else None
        except KeshError:
            book.kept[key] = None
    found = book.kept[key]
    return found if isinstance(found, float) else None


def hours_of(book: Book, task: Task) -> float:
    """Hours of a task's work, own minutes first; nought for what is only kept or looked at."""
    if task.minutes is not None:
        return task.minutes / 60
    if task.kind != "repot":
        return kind_of(task.kind).minutes / 60
    standing = book.standings.get(task.tree)
    minutes = repot_minutes(standing.soil_l if standing is not None else None)
    return book.pace.value * minutes / 60


def jobs(book: Book, last: date, *, soil: bool = True) -> tuple[Job, ...]:
    """Every open job up to a day with the day on which it is done: the user's own, else the lightest weekend day in its window.

    What closes first is laid first; days without anybody are left out. What is late is done on the first day there is.
    Without `soil` nobody asks how much mix each takes, which is the slow part.
    """
    open_ = [
        t for t in book.tasks
        if book.state(t) not in ("done", "skipped") and kind_of(t.kind).sort in ("work", "look", "cover", "feed") and hours_of(book, t) > 0
        and (t.day or t.from_ or t.to) is not None and (t.day or t.from_ or t.to or date.max) <= last
    ]  # fmt: skip
    load: dict[date, float] = {}
    found = []
    away = () if book.habits.keeper else book.habits.away
    for own in (True, False):
        rows = [t for t in open_ if (t.day is not None) is own]
        for task in sorted(rows, key=lambda t: (t.to or t.from_ or date.max, t.tree, t.id)):
            hours = hours_of(book, task)
            day = task.day or _lightest(task, book.today, load, hours, book.habits.weekend_hours / 2, away)
            load[day] = load.get(day, 0.0) + hours
            pot = task.pot or book.target(task.tree)
            litres = soil_to_mix_l(book, task.tree, pot) if soil and task.kind == "repot" else None
            found.append(Job(task, day, own, hours, litres))
    return tuple(sorted(found, key=lambda j: (j.day, j.task.tree, j.task.id)))


def _lightest(
    task: Task, today: date, load: Mapping[date, float], hours: float, gives: float, away: Iterable[Away]
) -> date:
    begins = max(task.from_ or today, today)
    ends = max(task.to or begins, begins)
    gone = [a for a in away if not a.keeper]
    span = [later(begins, n) for n in range(min((ends - begins).days, FARTHEST_DAYS) + 1)]
    open_days = [d for d in span if not _gone(d, gone)]
    # a weekend of its window, else any day of it, else the first day on which somebody is there again
    days = [d for d in open_days if d.weekday() >= 5] or open_days
    if not days:
        back = next((n for n in range(1, FARTHEST_DAYS) if not _gone(later(ends, n), gone)), 0)
        days = [later(ends, back)]
    room = [d for d in days if load.get(d, 0.0) + hours <= gives + 1e-9]
    return room[0] if room else min(days, key=lambda d: (load.get(d, 0.0), d))


def _gone(day: date, away: Iterable[Away]) -> bool:
    return any(a.from_ <= day <= a.to for a in away)


def weekends(book: Book, first: date, last: date, *, soil: bool = True) -> tuple[Weekend, ...]:
    """Every weekend from the week of a day to that of another, with its jobs."""
    by_week: dict[date, list[Job]] = {}
    for job in jobs(book, later(last, 7), soil=soil):
        by_week.setdefault(saturday_of(job.day), []).append(job)
    first_day = saturday_of(first)
    weeks = (saturday_of(last) - first_day) // WEEK + 1
    days = [first_day + n * WEEK for n in range(weeks)]
    return tuple(Weekend(day, tuple(by_week.get(day, ())), book.habits.weekend_hours) for day in days)


@dataclass(frozen=True)
class Moved:
    """What a job on another day changes: whether it still lies in its window, the weekend's hours, the strain on that day."""

    day: date
    inside: bool
    words: str


def moved_words(book: Book, task: Task, day: date) -> Moved:
    """What moving a task to a day would change, before it is done."""
    inside = (task.from_ is None or day >= task.from_) and (task.to is None or day <= task.to)
    told = []
    if not inside:
        edge = task.from_ if task.from_ is not None and day < task.from_ else task.to
        gap = abs((day - edge).days) if edge is not None else 0
        told.append(f"{counted(gap, 'day')} {'before' if edge == task.from_ else 'after'} its window")
    elif task.to is not None:
        told.append(f"{(task.to - day).days} days before its window closes")
    hours = hours_of(book, task)
    if hours > 0:
        week = saturday_of(day)
        others = sum(
            j.hours
            for j in jobs(book, later(week, 7), soil=False)
            if saturday_of(j.day) == week and j.task.id != task.id
        )
        total = others + hours
        told.append(f"that weekend then {total:.1f} h, you give {book.habits.weekend_hours:g}")
    cost = strain_of(book, task)
    if cost > 0:
        ledger = book.ledger(task.tree, max(day, book.today))
        then = ledger.with_work(cost, max(day, book.today))
        told.append(f"strain {100 * then:.0f} of {100 * ledger.limit:.0f}")
    if any(a.from_ <= day <= a.to for a in book.habits.away):
        told.append("you are away then")
    return Moved(day, inside, "; ".join(told))


def strain_of(book: Book, task: Task) -> float:
    """What a task would cost the tree: the feeders that the pot that is meant takes, else its kind's share."""
    if task.kind != "repot":
        return kind_of(task.kind).strain
    key = f"strain/{task.tree}/{task.pot}"
    if key not in book.kept:
        book.kept[key] = _root_share(book, task)
    found = book.kept[key]
    return found if isinstance(found, float) else 0.0


def _root_share(book: Book, task: Task) -> float:
    pot = task.pot or book.target(task.tree)
    if pot is None or pot not in book.c.pots:
        return 0.0
    try:
        f = glance(case_for(book.c, task.tree, pot_id=pot, on=task.from_ or book.today), book.c.pots[pot]).figures
    except KeshError:
        return 0.0
    year = this_year(f)
    return 0.0 if year is None else year.share
