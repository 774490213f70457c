"""The season as a calendar file (RFC 5545): one entry a task, whole days, ids that stay, so that bringing it in again changes and does not double."""

import hashlib
from datetime import UTC, date, datetime

from icalendar import Calendar, Event

from kesh import __version__
from kesh.advice.season.asking import CLOSED
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import jobs
from kesh.model import Task
from kesh.science.days import later

# entries are numbered by the minutes since then, so that what is written later is newer
FIRST_NUMBER = datetime(2026, 1, 1, tzinfo=UTC)


def uid_of(collection: str, task: Task) -> str:
    """The same for the same task of the same collection, whatever else is in the file."""
    digest = hashlib.sha256(f"{collection}\0{task.tree}\0{task.id}".encode()).hexdigest()[:32]
    return f"{digest}@kesh.invalid"


def calendar_of(book: Book, first: date, last: date, now: datetime | None = None) -> bytes:
    """The calendar file of all tasks between two days. Work stands on the day it is laid for, care over its days.

    What is done or left out stands as cancelled, so that it goes from a calendar in which it stood.
    """
    stamp = (now or datetime.now(UTC)).astimezone(UTC).replace(microsecond=0)
    calendar = Calendar()
    calendar.add("prodid", f"-//Kesh//{__version__}//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", book.c.name)
    laid = {job.task.id: job for job in jobs(book, last)}
    within = {t.id for t in book.open_tasks(first, last)}
    for task in book.tasks:
        if task.state not in CLOSED and task.id not in within:
            continue
        job = laid.get(task.id)
        begins = job.day if job is not None else task.day or task.from_ or task.to
        if begins is None:
            continue
        ends = begins if job is not None else max(task.to or begins, begins)
        if task.state in CLOSED and not (ends >= first and begins <= last):
            continue
        calendar.add_component(_entry(book, task, begins, ends, stamp))
    return bytes(calendar.to_ical())


def _entry(book: Book, task: Task, begins: date, ends: date, stamp: datetime) -> Event:
    tree, kind = book.c.trees[task.tree], kind_of(task.kind)
    entry = Event()
    entry.add("uid", uid_of(book.c.name, task))
    entry.add("dtstamp", stamp)
    entry.add("sequence", max(int((stamp - FIRST_NUMBER).total_seconds() // 60), 0))
    entry.add("dtstart", begins)
    # the day after the last one, as the standard counts
    entry.add("dtend", later(ends, 1))
    entry.add("summary", f"{tree.name}: {kind.words}")
    told = [task.text, f"Ends when: {task.sign}" if task.sign else "", f"Why: {task.why}" if task.why else ""]
    if kind.sort == "work" and task.from_ is not None and task.to is not None:
        told.append(f"Window: {task.from_.isoformat()} to {task.to.isoformat()}")
    entry.add("description", "\n".join(t for t in told if t))
    entry.add("categories", [kind.sort])
    entry.add("transp", "OPAQUE" if kind.sort == "work" else "TRANSPARENT")
    entry.add("status", "CANCELLED" if task.state in CLOSED else "CONFIRMED")
    return entry
