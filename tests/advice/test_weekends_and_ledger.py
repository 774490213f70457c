"""What lies on which weekend, what moving it changes, what weighs on a tree, and what a log taught: rules that must hold."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.season.asking import LOOK_DAYS, MOST_TIMES, after, answer_to, closer_looks, state_on
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import TASK_KINDS, kind_of
from kesh.advice.season.lessons import FIGURES, pairs, ratios, tallies, taught
from kesh.advice.season.strain_ledger import WORDS, ledger, load_of
from kesh.advice.season.weekends import hours_of, jobs, moved_words, repot_minutes, saturday_of, strain_of, weekends
from kesh.demo.lanternfield import demo_collection
from kesh.model import Away, Brief, Event, Habits, Task, Tree
from kesh.science.season.days import later
from tests.kept import examples

DAY = date(2026, 3, 10)
END = date(2026, 6, 30)
DAYS = st.dates(date(2000, 1, 1), date(2060, 12, 31))
TREE = Tree(id="oak", name="Oak")


@pytest.fixture(scope="module")
def book() -> Book:
    return Book(demo_collection(), DAY)


def task(**fields: object) -> Task:
    return Task.made(
        **({"id": "own", "tree": "mossback", "kind": "prune", "from": DAY, "to": DAY + timedelta(days=40)} | fields)
    )


def with_tasks(book: Book, *tasks: Task, habits: Habits | None = None) -> Book:
    return Book(replace(book.c, tasks=tasks, habits=habits or book.c.habits), DAY)


# --- asking ----------------------------------------------------------------------------------------------------------


@given(begins=DAYS, length=st.integers(1, 300), late=st.integers(0, 60))
def test_not_yet_adds_half_of_the_first_interval_each_time_and_then_somebody_looks(
    begins: date, length: int, late: int
) -> None:
    first = task(kind="shade", **{"from": begins, "to": begins + timedelta(days=length)})
    step, answers = first, []
    for n in range(MOST_TIMES):
        assert step.to is not None
        day = step.to + timedelta(days=late)
        assert state_on(step, day) == "asked"
        answers.append(answer_to(first, "not_yet", day))
        step = after(first, answers)
        assert closer_looks(first, answers) == ()
        assert step.to == day + timedelta(days=(length + 1) // 2)
        assert step.times == n + 1
        assert state_on(step, day) == "extended"
    assert step.to is not None
    answers.append(answer_to(first, "not_yet", step.to))
    (look,) = closer_looks(first, answers)
    assert (look.kind, look.from_, look.tree) == ("look_closer", step.to, step.tree)
    assert after(first, answers).to == step.to + timedelta(days=LOOK_DAYS)
    assert after(first, answers).times == MOST_TIMES
    # in whatever order they come, they say the same
    assert after(first, answers[::-1]) == after(first, answers)


@given(day=DAYS, n=st.integers(-4000, 4000))
def test_days_later_and_back(day: date, n: int) -> None:
    assert later(later(day, n), -n) == day
    assert (later(day, n) - day).days == n


@pytest.mark.parametrize(
    ("day", "n", "found"),
    [
        (date.max, 1, date.max),
        (date.min, -1, date.min),
        (DAY, 10**8, date.max),
        (DAY, -(10**8), date.min),
        (DAY, 10**12, date.max),
    ],
)
def test_no_day_lies_beyond_the_calendar(day: date, n: int, found: date) -> None:
    assert later(day, n) == found


# --- weekends --------------------------------------------------------------------------------------------------------


@given(day=DAYS)
def test_a_week_has_one_saturday(day: date) -> None:
    saturday = saturday_of(day)
    assert saturday.weekday() == 5
    assert -1 <= (saturday - day).days <= 5
    monday = day - timedelta(days=day.weekday())
    assert {saturday_of(monday + timedelta(days=n)) for n in range(7)} == {saturday}


def test_every_job_stands_on_one_weekend_and_hours_add_up(book: Book) -> None:
    weeks = weekends(book, DAY, END, soil=False)
    assert all((b.date - a.date).days == 7 for a, b in pairwise(weeks))
    ids = [j.task.id for w in weeks for j in w.jobs]
    assert len(set(ids)) == len(ids)
    expected = {
        j.task.id
        for j in jobs(book, later(END, 7), soil=False)
        if weeks[0].date - timedelta(days=5) <= j.day <= weeks[-1].date + timedelta(days=1)
    }
    assert set(ids) == expected
    for w in weeks:
        assert w.hours == pytest.approx(sum(hours_of(book, j.task) for j in w.jobs))
        assert w.over_hours == max(w.hours - w.gives_hours, 0)


@given(count=st.integers(1, 8), minutes=st.integers(20, 300), gives=st.integers(2, 16))
@settings(max_examples=examples(25), deadline=None)
def test_what_fits_is_spread_and_nothing_leaves_its_window(count: int, minutes: int, gives: int) -> None:
    rows = [task(id=f"own-{n}", minutes=float(minutes)) for n in range(count)]
    plain = Book(
        replace(demo_collection(), plantings=(), events=(), tasks=tuple(rows), habits=Habits(weekend_hours=gives)), DAY
    )
    laid = [j for j in jobs(plain, END, soil=False) if j.task.id.startswith("own-")]
    assert len(laid) == count
    load: dict[date, float] = {}
    for j in laid:
        assert j.day.weekday() >= 5
        assert j.task.from_ is not None
        assert j.task.to is not None
        assert j.task.from_ <= j.day <= j.task.to
        load[j.day] = load.get(j.day, 0.0) + j.hours
    days = sum((DAY + timedelta(days=n)).weekday() >= 5 for n in range(41))
    per_day = int(gives / 2 // (minutes / 60))
    if per_day * days >= count:
        assert max(load.values()) <= gives / 2 + 1e-9


def test_nobody_works_while_away_and_an_own_day_stands(book: Book) -> None:
    away = Habits(away=(Away.made(**{"from": DAY, "to": DAY + timedelta(days=20)}),))
    free = with_tasks(book, task(id="own"), task(id="fixed", day=date(2026, 3, 14)), habits=away)
    laid = {j.task.id: j for j in jobs(free, END, soil=False)}
    assert laid["own"].day > DAY + timedelta(days=20)
    assert (laid["fixed"].day, laid["fixed"].own_day) == (date(2026, 3, 14), True)
    gone = moved_words(free, laid["own"].task, date(2026, 3, 15))
    assert gone.inside
    assert gone.words.endswith("you are away then")


@pytest.mark.parametrize(("day", "inside", "told"), [
    (DAY - timedelta(days=1), False, "1 day before its window"), (DAY + timedelta(days=43), False, "3 days after its window"),
    (DAY + timedelta(days=40), True, "0 days before its window closes"),
])  # fmt: skip
def test_a_move_says_how_it_lies_to_the_window(book: Book, day: date, inside: bool, told: str) -> None:
    moved = moved_words(with_tasks(book, task()), task(), day)
    assert (moved.inside, moved.words.split(";")[0]) == (inside, told)
    assert "you give" in moved.words
    assert "strain " in moved.words


@given(litres=st.floats(0, 400), more=st.floats(0.1, 100))
def test_a_larger_pot_takes_longer(litres: float, more: float) -> None:
    assert repot_minutes(litres + more) > repot_minutes(litres) > 0
    assert repot_minutes(None) == kind_of("repot").minutes


def test_ones_own_minutes_go_before_the_usual_ones(book: Book) -> None:
    for kind, row in TASK_KINDS.items():
        assert hours_of(book, task(kind=kind, minutes=90)) == 1.5
        if kind != "repot":
            assert hours_of(book, task(kind=kind)) == pytest.approx(row.minutes / 60)
            assert strain_of(book, task(kind=kind)) == row.strain


# --- strain ----------------------------------------------------------------------------------------------------------


@given(share=st.floats(0, 1), days=st.integers(0, 900))
@settings(max_examples=examples(60))
def test_what_was_done_weighs_less_each_day_and_what_is_ahead_weighs_nothing(share: float, days: int) -> None:
    event = Event(id="a", tree="oak", date=DAY, kind="repotted", figures=(("removed_feeder_share", share),))
    now = ledger(TREE, Brief(id="oak"), [event], DAY + timedelta(days=days), None, 48.0)
    then = ledger(TREE, Brief(id="oak"), [event], DAY + timedelta(days=days + 30), None, 48.0)
    assert then.total <= now.total + 1e-12 <= share + 1e-9
    assert ledger(TREE, Brief(id="oak"), [event], DAY - timedelta(days=1), None, 48.0).total == 0
    assert now.with_work(0.2, now.day) >= now.total


def test_a_work_fits_from_the_first_day_it_says(book: Book) -> None:
    event = Event(id="a", tree="oak", date=DAY, kind="repotted", figures=(("removed_feeder_share", 0.35),))
    held = ledger(TREE, Brief(id="oak"), [event], DAY, None, 48.0)
    first = held.fits_from(0.3, DAY)
    assert first is not None
    assert first > DAY
    assert held.with_work(0.3, first) <= held.limit + 1e-9
    assert held.with_work(0.3, first - timedelta(days=1)) > held.limit
    assert held.fits_from(1.5, DAY) is None


def test_root_work_without_its_share_is_unknown_and_not_nought() -> None:
    event = Event(id="a", tree="oak", date=DAY - timedelta(days=10), kind="repotted")
    held = ledger(TREE, Brief(id="oak"), [event], DAY, None, 48.0)
    assert load_of(event) is None
    assert held.total == 0
    assert held.unknown == (f"roots {event.date.isoformat()}: no share written down",)
    old = event.changed(date=DAY - timedelta(days=900))
    assert ledger(TREE, Brief(id="oak"), [old], DAY, None, 48.0).unknown == ()


@pytest.mark.parametrize("kind", sorted(WORDS))
def test_a_strain_that_was_written_down_goes_before_the_usual_one(kind: str) -> None:
    event = Event.made(id="a", tree="oak", date=DAY, kind=kind, strain=0.37)
    load = load_of(event)
    assert load is not None
    assert (load.share, load.kind) == (0.37, kind)
    assert load_of(Event(id="b", tree="oak", date=DAY, kind="seen", strain=0.37)) is None


# --- lessons ---------------------------------------------------------------------------------------------------------


def repotted(n: int, planned: float, done: float) -> Event:
    return Event(
        id=f"r{n}", tree="mossback", date=date(2010 + n, 3, 10), kind="repotted", planned=(("removed_feeder_share", planned),),
        figures=(("removed_feeder_share", done),),
    )  # fmt: skip


@given(done=st.lists(st.floats(0.1, 0.6), min_size=1, max_size=12))
@settings(max_examples=examples(40), deadline=None)
def test_own_cases_pull_the_plain_figure_by_their_number(done: list[float]) -> None:
    c = replace(demo_collection(), events=tuple(repotted(n, 0.3, d) for n, d in enumerate(done)))
    cases = ratios(c, "removed_feeder_share")
    assert cases == pytest.approx([d / 0.3 for d in done])
    words, told = taught(c, "removed_feeder_share")
    # a default counts for three cases: a second way of reckoning the same mean
    value = np.average([1.0, float(np.mean(cases))], weights=[3, len(cases)])
    if abs(value - 1) > 0.035:
        assert float(words.split()[2]) == pytest.approx(value, abs=0.006)
    assert told.startswith(f"{len(done)} case")
    # a spread is told from four cases on
    assert ("to" in told) is (len(done) >= 4)


def test_planned_beside_done_leaves_out_what_only_one_has() -> None:
    c = demo_collection()
    event = Event(
        id="r", tree="mossback", date=DAY, kind="repotted", minutes=100, planned=(("minutes", 80), ("mound_mm", 0), ("raise_mm", 12), ("a_word", 3)),
        figures=(("mound_mm", 4), ("headspace_mm", 9), ("a_word", 4)),
    )  # fmt: skip
    found = {p.key: p for p in pairs(c, event)}
    assert set(found) == {"minutes", "mound_mm"}
    assert found["minutes"].apart == 20
    assert found["minutes"].share == pytest.approx(0.25)
    assert not found["minutes"].as_planned
    # a plan of nought has no share
    assert found["mound_mm"].share is None
    assert [p.key for p in pairs(c, event)] == [k for k in FIGURES if k in found]


def test_a_count_without_its_whole_says_nothing() -> None:
    def tried(n: int, **figures: float) -> Event:
        return Event(id=f"t{n}", tree="mossback", date=DAY, kind="experiment", figures=tuple(figures.items()))

    found = tallies(
        [
            tried(1, alive=5),
            tried(2, alive=5, of=0),
            tried(3, alive=7, of=6),
            tried(4, alive=5, of=6),
            tried(5, alive_low=2, alive_high=4, of=9),
        ]
    )
    assert [t.event.id for t in found] == ["t4", "t5"]
    assert "of 6" in found[0].count.words()
    assert "of 9" in found[1].count.words()
