"""The season as a calendar file (RFC 5545): one entry a task, whole days, ids that stay, so that bringing it in again changes and does not double."""

import hashlib
from dataclasses import dataclass
from datetime import UTC, date, datetime

from icalendar import Calendar, Event

from kesh import __version__
from kesh.advice.season.asking import CLOSED
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import jobs
from kesh.model import CalendarEntry, Task
from kesh.science.season.days import later

# entries are numbered by the minutes since then, so that what is written later is newer
FIRST_NUMBER = datetime(2026, 1, 1, tzinfo=UTC)


def uid_of(collection: str, tree: str, task: str) -> str:
    """The same for the same task of the same collection, whatever else is in the file."""
    digest = hashlib.sha256(f"{collection}\0{tree}\0{task}".encode()).hexdigest()[:32]
    return f"{digest}@kesh.invalid"


@dataclass(frozen=True)
class Handed:
    """A calendar file, and what it gave away: to be kept, so that the next one can change it."""

    body: bytes
    given: tuple[CalendarEntry, ...]


def calendar_of(book: Book, first: date, last: date, now: datetime | None = None) -> bytes:
    """The calendar file of all tasks between two days; see `hand_over`."""
    return hand_over(book, first, last, now).body


def hand_over(book: Book, first: date, last: date, now: datetime | None = None) -> Handed:
    """The calendar file of all tasks between two days. Work stands on the day it is laid for, care over its days.

    What an earlier file gave stands in it under the same id: moved, or as cancelled where it is done, left out or gone.
    """
    stamp = (now or datetime.now(UTC)).astimezone(UTC).replace(microsecond=0)
    calendar = Calendar()
    calendar.add("prodid", f"-//Kesh//{__version__}//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", book.c.name)
    laid = {job.task.id: job for job in jobs(book, last)}
    within = {t.id for t in book.open_tasks(first, last)}
    before, given = dict(book.c.calendar), []
    for task in book.tasks:
        old = before.get(task.id)
        closed = task.state in CLOSED
        if not closed and task.id not in within and old is None:
            continue
        job = laid.get(task.id)
        begins = job.day if job is not None else task.day or task.from_ or task.to
        if begins is None:
            continue
        ends = begins if job is not None else max(task.to or begins, begins)
        if closed and old is None and (book.c.calendar or not (ends >= first and begins <= last)):
            # no calendar has it: where none is remembered it is cancelled to be sure
            continue
        before.pop(task.id, None)
        one = CalendarEntry(
            id=task.id, tree=task.tree, uid=old.uid if old is not None else uid_of(book.c.name, task.tree, task.id), first=begins, last=ends,
            words=f"{book.c.trees[task.tree].name}: {kind_of(task.kind).words}",
        )  # fmt: skip
        calendar.add_component(_entry(one, task, stamp))
        if not closed:
            given.append(one)
    for old in before.values():
        # the task is there no longer: its tree or pot went, or another repotting ended it
        calendar.add_component(_entry(old, None, stamp))
    return Handed(bytes(calendar.to_ical()), tuple(given))


def _entry(given: CalendarEntry, task: Task | None, stamp: datetime) -> Event:
    entry = Event()
    entry.add("uid", given.uid)
    entry.add("dtstamp", stamp)
    entry.add("sequence", max(int((stamp - FIRST_NUMBER).total_seconds() // 60), 0))
    entry.add("dtstart", given.first)
    # the day after the last one, as the standard counts
    entry.add("dtend", later(given.last, 1))
    entry.add("summary", given.words)
    if task is None:
        entry.add("status", "CANCELLED")
        return entry
    kind = kind_of(task.kind)
    sign = f"{'Begins when' if kind.sort == 'work' else 'Ends when'}: {task.sign}" if task.sign else ""
    told = [task.text, sign, f"Why: {task.why}" if task.why else ""]
    if kind.sort == "work" and task.from_ is not None and task.to is not None:
        told.append(f"Window: {task.from_.isoformat()} to {task.to.isoformat()}")
    entry.add("description", "\n".join(t for t in told if t))
    entry.add("categories", [kind.sort])
    entry.add("transp", "OPAQUE" if kind.sort == "work" else "TRANSPARENT")
    entry.add("status", "CANCELLED" if task.state in CLOSED else "CONFIRMED")
    return entry
