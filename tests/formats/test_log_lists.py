"""The log and the orders as lists: any entry survives the way out and in, and each cell that is wrong is one sentence."""

import csv
import io
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from kesh.advice.season.book import Book
from kesh.advice.season.supplies import NEARLY, Supply, supplies
from kesh.advice.season.weekends import jobs
from kesh.base.progress import Progress
from kesh.demo.lanternfield import demo_collection
from kesh.formats.lists.events import KIND_WORDS, columns_of, events_csv, everybody, is_log, read_events
from kesh.formats.lists.table import table_of
from kesh.formats.lists.tasks import orders_csv, safe
from kesh.model import EVENT_KINDS, Collection, Event, Stock
from tests.kept import examples

DAY = date(2026, 3, 10)
HEAD = "tree,date,kind,text,minutes,cost,strain,figures\n"
C = demo_collection()
BARE = replace(C, events=())

PLAIN = st.text(
    st.characters(min_codepoint=32, max_codepoint=0x2FF, exclude_characters="\x7f\x85\xa0\xad"), max_size=40
).map(str.strip)
FIGURES = st.dictionaries(
    st.sampled_from(["removed_feeder_share", "of", "alive", "soil_l"]),
    st.floats(0, 1e6).map(lambda v: float(f"{v:.6g}")),
)


@st.composite
def entries(draw: st.DrawFn) -> Event:
    return Event(
        id="e", tree=draw(st.sampled_from(sorted(C.trees))), date=draw(st.dates(date(1900, 1, 1), date(2100, 1, 1))),
        kind=draw(st.sampled_from(EVENT_KINDS)), text=draw(PLAIN), pot=draw(st.none() | st.sampled_from(sorted(C.pots))),
        minutes=draw(st.none() | st.integers(0, 900).map(float)), cost=draw(st.none() | st.integers(0, 900).map(float)),
        strain=draw(st.none() | st.integers(0, 100).map(lambda v: v / 100)), figures=tuple(draw(FIGURES).items()),
        planned=tuple(draw(FIGURES).items()),
    )  # fmt: skip


@given(event=entries())
@settings(max_examples=examples(80), deadline=None)
def test_any_entry_goes_out_and_comes_in_as_it_was(event: Event) -> None:
    text = events_csv(replace(C, events=(event,)))
    found = read_events(table_of(text, "log"), BARE)
    assert found.problems == ()
    assert found.events == (event,)
    # brought in again it is there already
    assert read_events(table_of(text, "log"), replace(C, events=(event,))).events == ()


def _seen(text: str) -> str:
    return "".join(sign for sign in text if sign.isprintable()).strip()


@given(text=st.text(max_size=30))
@example("\x1b")
@example("\x1b=1+1")
@example("-\x00 5")
def test_no_table_program_takes_a_text_for_a_formula(text: str) -> None:
    assert safe(text)[:1] not in ("=", "+", "-", "@", "\t")
    # what can be seen of it stays as it was; signs that end a text or steer a terminal do not come out
    assert _seen(safe(text)) == _seen(text)
    assert not any(sign < " " and sign not in "\n\t" for sign in safe(text))


def test_the_oldest_stands_first_and_every_entry_has_its_row() -> None:
    rows = list(csv.DictReader(io.StringIO(events_csv(C))))
    assert len(rows) == len(C.events)
    assert [r["date"] for r in rows] == sorted(r["date"] for r in rows)
    assert {r["id"] for r in rows} == {e.id for e in C.events}


@pytest.mark.parametrize(
    ("row", "told"),
    [
        ("nobody,2025-03-17,pruned,,,,,", "there is no tree 'nobody'"),
        (",2025-03-17,pruned,,,,,", "there is no tree ''"),
        ("mossback,,pruned,,,,,", "is no day"),
        ("mossback,spring,pruned,,,,,", "is no day"),
        ("mossback,2025-02-30,pruned,,,,,", "no day of the calendar"),
        ("mossback,2025-13-01,pruned,,,,,", "no day of the calendar"),
        ("mossback,3/4/2025,pruned,,,,,", "can be two days"),
        ("mossback,2025-03-17,pruned,,an hour,,,", "minutes 'an hour' is no number"),
        ("mossback,2025-03-17,pruned,,-5,,,", "minutes"),
        ("mossback,2025-03-17,pruned,,nan,,,", "minutes"),
        ("mossback,2025-03-17,pruned,,,1e99,,", "cost"),
        ("mossback,2025-03-17,pruned,,,,1.5,", "strain"),
        ("mossback,2025-03-17,pruned,,,,,of=many", "of 'many' is no number"),
    ],
)
def test_a_row_that_cannot_be_read_is_one_sentence_and_the_next_is_read(row: str, told: str) -> None:
    found = read_events(table_of(f"{HEAD}{row}\nmossback,2025-05-01,fed,after it,,,,\n", "log"), BARE)
    (problem,) = found.problems
    assert problem.startswith("row 2: ")
    assert told in problem
    assert "\n" not in problem
    assert [(e.kind, e.text) for e in found.events] == [("fed", "after it")]


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2025-03-17", date(2025, 3, 17)), ("2025/3/17", date(2025, 3, 17)), ("17.3.2025", date(2025, 3, 17)),
        ("3.4.2025", date(2025, 4, 3)), ("17/03/2025", date(2025, 3, 17)), ("5/13/2025", date(2025, 5, 13)), ("05-31-2025", date(2025, 5, 31)), ("17-3-2025", date(2025, 3, 17)),
    ],
)  # fmt: skip
def test_days_that_can_only_be_one_are_read(text: str, day: date) -> None:
    (event,) = read_events(table_of(f"{HEAD}Mossback,{text},fed,,,,,\n", "log"), BARE).events
    assert event.date == day


@pytest.mark.parametrize(("kind", "words"), [(kind, said) for kind, several in KIND_WORDS.items() for said in several])
def test_every_other_word_for_a_kind_is_a_kind(kind: str, words: str) -> None:
    (event,) = read_events(table_of(f"{HEAD}mossback,2025-03-17,{words.upper()},,,,,\n", "log"), BARE).events
    assert event.kind == kind
    assert kind in EVENT_KINDS


def test_a_word_that_is_no_kind_is_kept_as_a_note_with_its_doubt() -> None:
    found = read_events(table_of(f"{HEAD}mossback,2025-03-17,levitated,by an inch,,,,\n", "log"), BARE)
    (event,) = found.events
    assert (event.kind, event.text) == ("note", "levitated: by an inch")
    assert "row 2: 'levitated' is no kind" in found.doubts[event.id]
    assert found.problems == ()


@pytest.mark.parametrize(
    ("heads", "row"),
    [
        ("Baum;Datum;Was;Notiz", "Ahorn;17.3.2026;umgetopft;in Oval"), ("arbre;date;travail;remarque", "Ahorn;17/03/2026;rempoté;in Oval"),
        ("árbol;fecha;trabajo;notas", "Ahorn;17/3/2026;trasplantado;in Oval"), ("albero;data;lavoro;osservazioni", "Ahorn;17-3-2026;rinvasato;in Oval"),
        ("Plant,When,Maßnahme,Bemerkung", "Ahorn,17 March 2026,Umtopfen,in Oval"),
    ],
)  # fmt: skip
def test_logs_in_other_languages_are_read_and_a_list_alone_knows_its_trees(
    tmp_path: Path, heads: str, row: str
) -> None:
    path = tmp_path / "log.csv"
    path.write_text(f"{heads}\n{row}\n", encoding="utf-8")
    assert is_log(path)
    table = table_of(path.read_text(encoding="utf-8"), "log")
    (event,) = read_events(table, everybody(table)).events
    assert (event.tree, event.date, event.kind, event.text) == ("Ahorn", date(2026, 3, 17), "repotted", "in Oval")


def test_rows_alike_are_one_entry_and_ids_that_are_taken_are_given_anew() -> None:
    row = "mossback,2025-03-17,fed,rapeseed cake,,,,\n"
    assert len(read_events(table_of(HEAD + 3 * row, "log"), BARE).events) == 1
    taken = C.events[0].id
    text = f"tree,date,kind,text,id\nmossback,1999-01-01,fed,one,{taken}\nmossback,1999-01-02,fed,two,{taken}\n"
    found = read_events(table_of(text, "log"), C).events
    assert len({e.id for e in (*C.events, *found)}) == len(C.events) + 2


def test_a_head_stands_for_one_thing_only() -> None:
    columns = columns_of(table_of("plant,day,event,note,time,price\n", "log"))
    assert columns == {
        "tree": "plant", "date": "day", "kind": "event", "text": "note", "minutes": "time", "cost": "price",
    }  # fmt: skip
    assert columns_of(table_of("length,width\n1,2\n", "pots")) == {}


def test_a_long_log_tells_how_far_it_is() -> None:
    seen: list[float] = []

    class Told(Progress):
        def at(self, share: float) -> None:
            seen.append(share)

    rows = "".join(f"mossback,{2000 + n // 300}-01-{n % 28 + 1:02d},fed,feed {n},,,,\n" for n in range(600))
    assert len(read_events(table_of(HEAD + rows, "log"), BARE, Told()).events) == 600
    assert seen == sorted(seen)
    assert seen[0] == 0
    assert 0.9 <= seen[-1] < 1


# --- what has to be got ----------------------------------------------------------------------------------------------


def needed(c: Collection) -> tuple[Supply, ...]:
    book = Book(c, DAY)
    return supplies(book, jobs(book, date(2026, 5, 31)))


def test_what_all_jobs_need_is_the_sum_of_what_each_needs() -> None:
    book = Book(C, DAY)
    rows = [j for j in jobs(book, date(2026, 5, 31)) if j.task.kind == "repot"]
    assert len(rows) > 1
    every = {s.key: s for s in supplies(book, rows)}
    alone: dict[str, float] = {}
    for job in rows:
        for s in supplies(book, [job]):
            alone[s.key] = alone.get(s.key, 0.0) + s.need
            assert s.trees == (job.task.tree,)
    assert {k: s.need for k, s in every.items()} == pytest.approx(alone)
    assert supplies(book, []) == ()


def test_nothing_is_called_enough_that_nobody_counted() -> None:
    bare = needed(replace(C, stock={}))
    assert bare
    assert {(s.have, s.status, s.short) for s in bare} == {(None, "unknown", 0.0)}
    for share, status in ((0.5, "no"), (1.1, "watch"), (NEARLY + 0.1, "fits")):
        s = bare[0]
        stock = {s.key: Stock(id=s.key, item=s.words, have=share * s.need, unit=s.unit)}
        found = next(x for x in needed(replace(C, stock=stock)) if x.key == s.key)
        assert found.status == status
        assert found.short == pytest.approx(max(1 - share, 0) * s.need)


def test_the_order_list_says_what_is_missing_even_of_what_nobody_counted() -> None:
    for c in (C, replace(C, stock={})):
        found = needed(c)
        rows = list(csv.DictReader(io.StringIO(orders_csv(found, Book(c, DAY)))))
        assert [r["key"] for r in rows] == [s.key for s in found]
        for row, s in zip(rows, found, strict=True):
            missing = s.need if s.have is None else s.short
            assert float(row["missing"]) == pytest.approx(missing, rel=0.01)
            assert (row["have"] == "") is (s.have is None)
            assert row["unit"]


@pytest.mark.parametrize(
    "heads", ["Name;Art;Datum;Höhe cm;Stamm cm", "nombre;tipo;fecha;altura cm;tronco cm", "name,species,date,height"]
)
def test_a_list_of_trees_with_a_day_is_no_log(tmp_path: Path, heads: str) -> None:
    path = tmp_path / "trees.csv"
    path.write_text(f"{heads}\n{heads.count(';') * 'x;' or 'x,y,z,1'}\n", encoding="utf-8")
    assert not is_log(path)
