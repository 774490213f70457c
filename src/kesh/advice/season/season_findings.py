"""What is to be said of the coming weeks: too much for a weekend, too little in the shed, nobody there, frost, strain, late orders."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from kesh.advice.season.asking import CLOSED
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.supplies import Supply
from kesh.advice.season.weekends import Job, Weekend, strain_of
from kesh.base.status import gravest_first
from kesh.base.words import counted
from kesh.model import Task
from kesh.science.season.days import later
from kesh.science.season.season import day_words

CARED_FOR = frozenset({"shade", "wind_shelter", "misting", "water_rhythm", "first_watering", "frost_protection"})
AHEAD_DAYS, FROST_GAP_DAYS = 70, 10


@dataclass(frozen=True)
class Said:
    """A finding of the season: its sentence, its remedy, the task it speaks of, and the day the remedy moves it to."""

    code: str
    status: str
    text: str
    remedy: str
    tree: str | None = None
    task: str | None = None
    move_to: date | None = None
    short: str = ""


def season_findings(
    book: Book, weeks: Sequence[Weekend], stock: Sequence[Supply], *, thorough: bool = True
) -> tuple[Said, ...]:
    """All of them, gravest first; what fits is said as one sentence. Strain asks each tree's root work: that is the slow part."""
    found: list[Said] = [*_late(book), *_crowded(book, weeks), *_short(book, stock, weeks), *_away(book), *_frost(book)]
    found += [
        *(_strained(book, [j for w in weeks for j in w.jobs]) if thorough else ()),
        *_orders(book),
        *_reserved(book),
        *_interim(book),
    ]
    return gravest_first(found)


def _name(book: Book, tree: str) -> str:
    return book.c.trees[tree].name


def _late(book: Book) -> list[Said]:
    """Work whose window closed undone, and what was asked and not answered."""
    late = [
        t for t in book.tasks
        if t.state not in CLOSED and kind_of(t.kind).sort == "work" and t.to is not None and t.to < book.today
    ]  # fmt: skip
    found = [
        Said(f"late/{t.id}", "no", f"{_name(book, t.tree)}: {kind_of(t.kind).words.lower()} was to be done by {day_words(t.to)}.",
             "Do it now if the signs allow it, or leave it out and say why.", t.tree, t.id)
        for t in late[:6] if t.to is not None
    ]  # fmt: skip
    asked = [t for t in book.asked() if kind_of(t.kind).sort != "work"]
    if asked:
        first = asked[0]
        found.append(
            Said("asked", "watch", f"{counted(len(asked), 'sign')} to look for: {_name(book, first.tree)}, {kind_of(first.kind).words.lower()}.",
                 f"{first.sign} Say yes, not yet or worse.", first.tree, first.id)
        )  # fmt: skip
    return found


def _crowded(book: Book, weeks: Sequence[Weekend]) -> list[Said]:
    found = []
    for n, week in enumerate(weeks):
        if week.over_hours <= 0.05:
            continue
        # the job that may wait longest goes to the lightest weekend in its window
        best: tuple[float, Job, date] | None = None
        for job in week.jobs:
            for other in weeks[n + 1 :]:
                if (
                    job.task.to is not None
                    and other.date <= job.task.to
                    and other.hours + job.hours <= other.gives_hours
                ):
                    spare = (job.task.to - other.date).days
                    if best is None or spare > best[0]:
                        best = spare, job, other.date
                    break
        text = f"The weekend of {day_words(week.date)} asks {week.hours:.1f} h; you give {week.gives_hours:g}."
        if best is None:
            found.append(
                Said(
                    f"crowded/{week.date}", "watch", text, "No job of it can wait; give it more hours, or ask for help."
                )
            )
        else:
            _, job, to = best
            end = job.task.to
            assert end is not None
            found.append(
                Said(f"crowded/{week.date}", "watch", f"{text} {_name(book, job.task.tree)} can wait until {day_words(end)}.",
                     f"Move {_name(book, job.task.tree)} to {day_words(to)}", job.task.tree, job.task.id, to)
            )  # fmt: skip
    return found


def _short(book: Book, stock: Sequence[Supply], weeks: Sequence[Weekend]) -> list[Said]:
    found = []
    for s in stock:
        if s.status != "no":
            continue
        days = [j.day for w in weeks for j in w.jobs if j.task.tree in s.trees and j.task.kind == "repot"]
        first = min(days, default=book.today)
        by = later(first, -book.habits.order_days)
        when = (
            f"order by {day_words(by)}"
            if by >= book.today
            else f"an order takes {book.habits.order_days} days: too late for {day_words(first)}"
        )
        names = ", ".join(_name(book, t) for t in s.trees[:2]) + (" and others" if len(s.trees) > 2 else "")
        found.append(
            Said(f"short/{s.key}", "no" if by < book.today else "watch", f"{s.words}: {s.short:.1f} {s.unit} short for {names} from {day_words(first)} on.",
                 f"{when[0].upper()}{when[1:]}.", s.trees[0])
        )  # fmt: skip
    return found


def _away(book: Book) -> list[Said]:
    found = []
    for gone in book.habits.away:
        if gone.to < book.today or gone.keeper or book.habits.keeper:
            continue
        care = [t for t in book.open_tasks(gone.from_, gone.to) if t.kind in CARED_FOR and t.from_ is not None]
        trees = list(dict.fromkeys(t.tree for t in care))
        if trees:
            names = ", ".join(_name(book, t) for t in trees[:2]) + (
                f" and {len(trees) - 2} more" if len(trees) > 2 else ""
            )
            days = (gone.to - gone.from_).days + 1
            found.append(
                Said(f"away/{gone.from_}", "watch", f"You are away {days} days from {day_words(gone.from_)} in the aftercare of {names}.",
                     "Name who waters; step Water tells what each pot bears alone.", trees[0], care[0].id)
            )  # fmt: skip
    return found


def _frost(book: Book) -> list[Said]:
    """Repottings that would leave new roots or leaves before the last frost."""
    found = []
    year = None if book.c.site is None else next((book.year(t) for t in book.c.trees), None)
    if year is None or year.last_frost is None:
        return []
    for task in book.open_tasks(book.today, later(book.today, AHEAD_DAYS)):
        day = task.day or task.from_
        if task.kind != "repot" or day is None or book.owns[task.tree].shelter:
            continue
        last = year.date_in(year.last_frost, day.year)
        gap = (last - day).days
        if FROST_GAP_DAYS < gap < 120:
            found.append((gap, task, last))
    if not found:
        return []
    gap, task, last = max(found, key=lambda row: row[0])
    more = f" So are {len(found) - 1} more." if len(found) > 1 else ""
    return [
        Said("worked_before_frost", "watch", f"{_name(book, task.tree)} is worked {gap} days before the last frost, about {day_words(last)}.{more}",
             f"Keep worked roots frost-free until {day_words(last)}.", task.tree, task.id)
    ]  # fmt: skip


def _strained(book: Book, rows: Sequence[Job]) -> list[Said]:
    found = []
    for job in rows:
        cost = strain_of(book, job.task)
        if cost <= 0:
            continue
        ledger = book.ledger(job.task.tree, max(job.day, book.today))
        then = ledger.with_work(cost, max(job.day, book.today))
        if then > ledger.limit + 1e-9 and ledger.total > 0.02:
            first = ledger.fits_from(cost, max(job.day, book.today))
            remedy = (
                f"It would fit from {first.isoformat()} on."
                if first is not None
                else "It is more than this tree bears at one time: do it in stages."
            )
            found.append(
                Said(f"strain/{job.task.id}", "watch", f"{_name(book, job.task.tree)}: {kind_of(job.task.kind).words.lower()} on {day_words(job.day)} brings strain to {100 * then:.0f} of {100 * ledger.limit:.0f}.",
                     remedy, job.task.tree, job.task.id, first if first is not None and job.task.to is not None and first <= job.task.to else None)
            )  # fmt: skip
    return found[:4]


def _orders(book: Book) -> list[Said]:
    found = []
    for order in book.c.orders.values():
        if (
            order.promised is not None
            and order.status not in ("here", "off")
            and order.promised < book.today
            and order.pot in book.c.pots
        ):
            found.append(
                Said(f"order/{order.id}", "watch", f"{book.c.pots[order.pot].name} was promised for {order.promised.isoformat()} and is not here.",
                     "Ask the maker, and write down the new day.")
            )  # fmt: skip
    return found


def _reserved(book: Book) -> list[Said]:
    found = []
    for lineup in book.c.lineups.values():
        pot = book.c.pots.get(lineup.chosen) if lineup.chosen else None
        if (
            pot is not None
            and pot.reserved is not None
            and pot.reserved.tree != lineup.id
            and pot.reserved.tree in book.c.trees
            and lineup.id in book.c.trees
        ):
            found.append(
                Said(f"reserved/{pot.id}", "no", f"{pot.name} is chosen for {_name(book, lineup.id)} and reserved for {_name(book, pot.reserved.tree)}.",
                     "Give one of them another pot.", lineup.id)
            )  # fmt: skip
    chosen: dict[str, list[str]] = {}
    for lineup in book.c.lineups.values():
        if lineup.chosen in book.c.pots and lineup.chosen is not None and lineup.id in book.c.trees:
            chosen.setdefault(lineup.chosen, []).append(lineup.id)
    for pot_id, trees in chosen.items():
        if len(trees) > 1:
            names = " and ".join(_name(book, t) for t in trees)
            found.append(
                Said(f"chosen/{pot_id}", "no", f"{book.c.pots[pot_id].name} is chosen for {names}; it holds one of them.",
                     "Choose another pot for all but one.", trees[-1])
            )  # fmt: skip
    return found


def _interim(book: Book) -> list[Said]:
    left = [(p.interim_until - book.today).days for p in book.now.values() if p.interim_until is not None]
    if not left:
        return []
    least = min(left)
    if least < 0:
        return [
            Said(
                "interim", "no", f"An interim pot ran out {-least} days ago.", "Move the tree on, or give it a new day."
            )
        ]
    n = len(left)
    return [Said("interim", "fits", f"{counted(n, 'interim pot')}; {least} days until the first runs out.", "")]


def task_by_id(book: Book, key: str) -> Task | None:
    """A task by its id."""
    return next((t for t in book.tasks if t.id == key), None)
