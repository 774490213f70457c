"""Calendar files read back by two other programs, lists of tasks and of the log, and the bundle's new records."""

import csv
import io
import json
import warnings
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import icalendar
import pytest
import vobject
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.season.book import Book
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.formats.bundle.read import bring, read_bundle
from kesh.formats.ical import calendar_of
from kesh.formats.lists.events import events_csv, is_log, read_events
from kesh.formats.lists.table import table_of
from kesh.formats.lists.tasks import tasks_csv
from kesh.model import Event, Task
from tests.kept import examples

DAY, LAST = date(2026, 3, 10), date(2027, 3, 9)
NOW = datetime(2026, 3, 10, 8, 0, tzinfo=UTC)


@pytest.fixture(scope="module")
def book() -> Book:
    return Book(demo_collection(), DAY)


def entries(body: bytes) -> dict[str, icalendar.Event]:
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        found = icalendar.Calendar.from_ical(body)
    return {str(e["uid"]): e for e in found.walk("VEVENT")}


def test_another_program_reads_every_task_with_its_days(book: Book) -> None:
    body = calendar_of(book, DAY, LAST, NOW)
    found = entries(body)
    assert len(found) == len(book.open_tasks(DAY, LAST))
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        other = vobject.readOne(body.decode())
    assert {e.uid.value for e in other.vevent_list} == set(found)
    named = {str(e["summary"]): e for e in found.values()}
    feed = named["Mossback: Feed"]
    task = next(t for t in book.tasks if t.tree == "mossback" and t.kind == "feed")
    assert task.to is not None
    assert (feed["dtstart"].dt, feed["dtend"].dt) == (task.from_, task.to + timedelta(days=1))
    assert all(len(line) <= 75 for line in body.split(b"\r\n"))
    assert body.count(b"\r\n") == body.count(b"\n")


def test_bringing_it_in_again_changes_and_does_not_double(book: Book) -> None:
    first = entries(calendar_of(book, DAY, LAST, NOW))
    task = next(t for t in book.tasks if t.kind == "repot" and t.tree == "mossback")
    later = Book(replace(book.c, tasks=(*book.c.tasks, task.changed(day=date(2026, 3, 28)))), DAY)
    second = entries(calendar_of(later, DAY, LAST, NOW + timedelta(hours=2)))
    assert set(first) == set(second)
    moved = [uid for uid in first if str(first[uid]["summary"]) == "Mossback: Repot"]
    assert [second[uid]["dtstart"].dt for uid in moved] == [date(2026, 3, 28)]
    assert all(int(second[uid]["sequence"]) > int(first[uid]["sequence"]) for uid in first)
    # what is done goes from a calendar in which it stood
    done = Book(replace(book.c, tasks=(*book.c.tasks, task.changed(state="done"))), DAY)
    third = entries(calendar_of(done, DAY, LAST, NOW))
    assert str(third[moved[0]]["status"]) == "CANCELLED"


def test_another_collection_has_other_ids(book: Book) -> None:
    other = Book(replace(book.c, name="Another bench"), DAY)
    assert not set(entries(calendar_of(book, DAY, LAST, NOW))) & set(entries(calendar_of(other, DAY, LAST, NOW)))


@settings(max_examples=examples(30), deadline=None)
@given(st.text(max_size=60))
def test_any_words_survive_the_calendar(text: str) -> None:
    c = demo_collection()
    task = Task.made(id="own-x", tree="mossback", kind="look", to=LAST, text=text, **{"from": DAY})
    body = calendar_of(Book(replace(c, tasks=(task,)), DAY), DAY, LAST, NOW)
    found = [str(e["description"]) for e in entries(body).values() if "Mossback: Look again" in str(e["summary"])]
    assert len(found) == 1
    plain = "".join(ch for ch in text if ch.isprintable() and not ch.isspace())
    assert plain in "".join(ch for ch in found[0] if ch.isprintable() and not ch.isspace())


def test_tasks_as_a_list(book: Book) -> None:
    rows = list(csv.DictReader(io.StringIO(tasks_csv(book))))
    assert len(rows) == len(book.tasks)
    assert {r["tree"] for r in rows} <= set(book.c.trees)
    assert all(date.fromisoformat(r["from"]) for r in rows if r["from"])
    formula = Book(replace(book.c, tasks=(Task(id="own-f", tree="mossback", kind="look", text="=1+1"),)), DAY)
    assert next(r for r in csv.DictReader(io.StringIO(tasks_csv(formula))) if r["id"] == "own-f")["text"] == " =1+1"


def test_the_log_goes_out_and_comes_in_and_nothing_is_doubled(book: Book) -> None:
    text = table_of(events_csv(book.c), "log")
    empty = replace(book.c, events=())
    back = read_events(text, empty)
    assert not back.problems
    key = {e.id: e for e in back.events}
    for e in book.c.events:
        assert (key[e.id].date, key[e.id].kind, dict(key[e.id].figures), dict(key[e.id].planned)) == (
            e.date,
            e.kind,
            dict(e.figures),
            dict(e.planned),
        )
    assert read_events(text, book.c).events == ()


def test_lists_of_others_are_read_by_their_heads_and_bad_rows_are_sentences(book: Book) -> None:
    text = "Name;When;What;Notes;Minutes\nMossback;2024-05-03;pruning;second leaves;40\nNobody;2024-05-03;pruning;;\nMossback;5/6/2024;pruning;;\nMossback;17.03.2025;repotting;;abc\nMossback;17.03.2025;dancing;;\n\n"
    found = read_events(table_of(text, "log"), book.c)
    assert [(e.tree, e.date, e.kind, e.minutes) for e in found.events] == [
        ("mossback", date(2024, 5, 3), "pruned", 40.0), ("mossback", date(2025, 3, 17), "note", None),
    ]  # fmt: skip
    assert [p.split(":")[0] for p in found.problems] == ["row 3", "row 4", "row 5"]
    assert "two days" in found.problems[1]
    # what nobody knows as work is kept in its own words, and said
    assert found.events[1].text == "dancing"
    assert list(found.doubts.values()) == ["row 6: 'dancing' is no kind of entry that is known; kept as a note"]


def test_a_log_is_told_from_other_lists_whatever_program_wrote_it(tmp_path: Path) -> None:
    path = tmp_path / "list.csv"
    assert not is_log(path)
    for body, log in (
        (b"Tree;Day;What\r\nx;y;z\r\n", True), ("sep=;\r\nName; When ;Kind\r\n".encode("utf-16"), True), (b"name,length,width\n", False),
        (b"", False), (b"\x00\x01\x02\xff" * 200, False),
    ):  # fmt: skip
        path.write_bytes(body)
        assert is_log(path) == log


def test_habits_orders_reservations_tubes_and_corrections_go_round_the_bundle() -> None:
    c = demo_collection()
    document = json.loads(json.dumps(bundle_of(c)))
    again = read_bundle(document)
    assert again.habits == c.habits
    assert again.orders == c.orders
    assert again.tasks == c.tasks
    assert again.pots["thrush-low"].reserved == c.pots["thrush-low"].reserved
    assert again.events == c.events
    assert {t.id: t.signs for t in again.trees.values()} == {t.id: t.signs for t in c.trees.values()}
    # what others leave out or add is no fault; what is wrong is one sentence
    document["habits"] = {"weekend_hours": 5, "away": [{"from": "2026-07-01", "to": "2026-06-01"}], "new_field": 1}
    document["orders"] = [{"pot": "cloud-rect", "promised": "2026-04-01"}, {"promised": "2026-04-01"}]
    brought = bring(document)
    assert brought.collection.habits is None
    assert list(brought.collection.orders) == ["cloud-rect"]
    assert len([p for p in brought.problems if "habits" in p or "orders" in p]) == 2


def test_an_event_of_tomorrows_kind_is_one_record_left_out() -> None:
    document = json.loads(json.dumps(bundle_of(demo_collection())))
    document["events"].append({"id": "new", "tree": "mossback", "date": "2026-01-01", "kind": "levitated"})
    brought = bring(document)
    assert len(brought.problems) == 1
    assert "levitated" in brought.problems[0] or "events" in brought.problems[0]
    assert len(brought.collection.events) == len(demo_collection().events)
    assert Event(id="x", tree="mossback", date=DAY, kind="note").corrections == ()
