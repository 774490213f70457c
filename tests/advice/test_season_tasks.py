"""Tasks, answers, days of aftercare and weekends: worked by hand."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from kesh.advice.season.aftercare import clock_day
from kesh.advice.season.asking import after, answer_to, closer_looks, state_on
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import TASK_KINDS, kind_of
from kesh.advice.season.weekends import jobs, moved_words, saturday_of, weekends
from kesh.demo.lanternfield import demo_collection
from kesh.formats.ical import calendar_of
from kesh.model import Away, Collection, Day, Event, Habits, Keeping, Order, Planting, Sign, Task, Tie, Tube
from kesh.science.season.days import later

SPRING = date(2027, 3, 6)


def task(first: date | None, last: date | None, **more: object) -> Task:
    return Task.made(id="t", tree="mossback", kind="shade", to=last, **{"from": first}, **more)


def of_kind(book: Book, kind: str, tree: str | None = None) -> list[Task]:
    return [t for t in book.tasks if t.kind == kind and tree in (None, t.tree)]


def test_a_task_waits_runs_and_is_asked_on_its_last_day() -> None:
    one = task(date(2027, 3, 10), date(2027, 3, 31))
    days = {3: "waiting", 10: "running", 30: "running", 31: "asked"}
    assert {d: state_on(one, date(2027, 3, d)) for d in days} == days
    assert state_on(task(None, None), SPRING) == "waiting"
    assert state_on(one.changed(state="skipped"), date(2027, 3, 31)) == "skipped"
    # a clock that was set back makes it wait again, and loses nothing
    assert state_on(one, date(2020, 1, 1)) == "waiting"


def said(one: Task, *answers: tuple[str, date]) -> tuple[Task, tuple[Task, ...]]:
    """A task as answers leave it, and what follows from them."""
    rows = [answer_to(one, word, day) for word, day in answers]
    return after(one, rows), closer_looks(one, rows)


def test_not_yet_adds_half_the_interval_twice_and_then_asks_to_look_closer() -> None:
    one = task(date(2027, 3, 10), date(2027, 3, 30))
    answers = [("not_yet", date(2027, 3, 30)), ("not_yet", date(2027, 4, 9)), ("not_yet", date(2027, 4, 19))]
    first, more = said(one, *answers[:1])
    assert (first.to, first.times, first.state, more) == (date(2027, 4, 9), 1, "extended", ())
    second, more = said(one, *answers[:2])
    assert (second.to, second.times, more) == (date(2027, 4, 19), 2, ())
    third, (look,) = said(one, *answers)
    assert look.kind == "look_closer"
    assert look.from_ == date(2027, 4, 19)
    assert third.to == date(2027, 4, 26)
    # answered late, the half counts from that day, and it stays half of the first interval
    late, _ = said(one, ("not_yet", date(2027, 4, 2)))
    assert late.to == date(2027, 4, 12)
    again, _ = said(one, ("not_yet", date(2027, 4, 2)), ("not_yet", date(2027, 4, 20)))
    assert again.to == date(2027, 4, 30)


def test_yes_ends_it_and_worse_opens_a_closer_look_at_once() -> None:
    one = task(date(2027, 3, 10), date(2027, 3, 30))
    assert said(one, ("yes", date(2027, 3, 20)))[0].state == "done"
    worse, (look,) = said(one, ("worse", date(2027, 3, 20)))
    assert "worse" in look.why
    assert worse.state == "extended"
    assert worse.to == date(2027, 3, 30)
    out = after(one, [answer_to(one, "left_out", SPRING, note="moved indoors")])
    assert (out.state, out.note) == ("skipped", "moved indoors")


def test_cold_days_do_not_run_the_clock_of_growth() -> None:
    def mean(day: date) -> float:
        return 3.0 if day < date(2027, 3, 15) else 8.0

    assert clock_day(date(2027, 3, 1), 28, None) == date(2027, 3, 29)
    # days of five degrees and more begin on the 15th: the first of them is counted there
    assert clock_day(date(2027, 3, 1), 10, mean) == date(2027, 3, 24)
    assert clock_day(date(2027, 3, 1), 0, mean) == date(2027, 3, 1)


def with_repotting(tree: str, day: date, share: float, **more: object) -> Collection:
    c = demo_collection()
    event = Event(id="r", tree=tree, date=day, kind="repotted", figures=(("removed_feeder_share", share),), **more)
    return replace(c, events=(*c.events, event))


def test_aftercare_of_a_repotting_that_came_in_without_it() -> None:
    """A broadleaf evergreen in May, all days warm: the table's days as they stand, severity by share."""
    day = date(2027, 5, 20)
    for share, wind in ((0.10, 14), (0.30, 28), (0.50, 45)):
        book = Book(with_repotting("evening-bell", day, share), day + timedelta(days=3))
        (shelter,) = of_kind(book, "wind_shelter", "evening-bell")
        assert (shelter.from_, shelter.to) == (day, day + timedelta(days=wind))
        assert book.state(shelter) == "running"
    assert not [t for t in book.tasks if t.kind == "repot" and t.tree == "evening-bell" and t.from_ and t.from_ <= day]


def test_a_deciduous_tree_is_shaded_from_the_opening_of_its_leaves() -> None:
    day = date(2027, 3, 20)
    c = with_repotting("tollgate", day, 0.3)
    (shade,) = of_kind(Book(c, day + timedelta(days=5)), "shade", "tollgate")
    assert (shade.from_, shade.to) == (None, None)
    tree = c.trees["tollgate"]
    opened = tree.changed(signs=(*tree.signs, Sign(date=date(2027, 4, 20), sign="buds", value="opening")))
    (shade,) = of_kind(Book(replace(c, trees=c.trees | {"tollgate": opened}), date(2027, 4, 21)), "shade", "tollgate")
    assert (shade.from_, shade.to) == (date(2027, 4, 20), date(2027, 5, 4))


@pytest.mark.parametrize(("view", "days"), [("weeks", 14), ("week", 7), ("sign", 7)])
def test_shade_by_both_schools(view: str, days: int) -> None:
    day = date(2027, 6, 20)
    c = with_repotting("evening-bell", day, 0.10)
    brief = c.briefs["evening-bell"]
    c = replace(
        c, briefs=c.briefs | {"evening-bell": brief.changed(season_views=brief.season_views.changed(shade=view))}
    )
    book = Book(c, day)
    (shade,) = of_kind(book, "shade", "evening-bell")
    assert shade.to == day + timedelta(days=days) or view == "weeks"
    if view == "week":
        (sun,) = of_kind(book, "full_sun", "evening-bell")
        assert sun.from_ == day + timedelta(days=min(7, days))


def test_what_follows_from_plantings_orders_tubes_and_new_trees() -> None:
    c = demo_collection()
    p = c.planting_of("tollgate")
    assert p is not None
    stands = p.changed(
        interim_until=date(2027, 9, 30), tube=Tube(**{"lower_mm_year": 20, "from": date(2026, 4, 1)}), anchors="guys",
        ties=(Tie(id="a", holes=((0, 0),), over=((0, 0, 10),), off_by=date(2027, 8, 1)),),
    )  # fmt: skip
    order = Order(id="chalk-oval", pot="chalk-oval", asked=date(2027, 1, 2), promised=date(2027, 3, 1))
    pot = c.pots["chalk-oval"].changed(made_for="mossback", state="ordered")
    new = c.trees["wicket"].changed(acquired=SPRING - timedelta(days=9))
    c = replace(
        c, plantings=tuple(stands if x.id == p.id else x for x in c.plantings), orders={"chalk-oval": order},
        pots=c.pots | {"chalk-oval": pot}, trees=c.trees | {"wicket": new},
    )  # fmt: skip
    book = Book(c, SPRING)
    assert [t.to for t in of_kind(book, "leave_interim", "tollgate")] == [date(2027, 9, 30)]
    assert [t.tree for t in of_kind(book, "order_due")] == ["mossback"]
    assert [t.to for t in of_kind(book, "take_off_ties")] == [date(2027, 8, 1)]
    assert of_kind(book, "take_off_holding")
    assert [t.from_ for t in of_kind(book, "lower_soil", "tollgate")] == [date(2027, 4, 1), date(2028, 4, 1)]
    assert [t.tree for t in of_kind(book, "inspect_new")] == ["wicket"]
    # an interim pot is left, not repotted
    assert not of_kind(book, "repot", "tollgate")


def test_weather_of_ones_own_asks_for_shelter_and_without_it_the_usual_year_does() -> None:
    c = demo_collection()
    assert c.site is not None
    tree = c.trees["tollgate"].changed(species="jade")
    days = tuple(
        Day(date=SPRING + timedelta(days=n), tmin_c=-12 if n == 2 else 3, tmax_c=34 if n == 4 else 12, rain_mm=4, forecast=True)
        for n in range(8)
    )  # fmt: skip
    calm = Book(replace(c, trees=c.trees | {"tollgate": tree}), SPRING)
    assert {t.kind for t in calm.tasks if t.tree == "tollgate"} >= {"bring_in", "bring_out"}
    wet = Book(replace(c, trees=c.trees | {"tollgate": tree}, site=c.site.changed(daily=days)), SPRING)
    kinds = {t.kind for t in wet.tasks if t.tree == "tollgate"}
    assert kinds >= {"shelter_rain", "shade_heat"}
    assert "frost_cover" in {t.kind for t in wet.tasks if t.tree == "honeyjar"}
    # under glass rain and frost are no matter
    brief = calm.brief("tollgate").changed(keeping=Keeping(shelter="glass"))
    housed = Book(replace(wet.c, briefs=c.briefs | {"tollgate": brief}), SPRING)
    assert not {"shelter_rain", "bring_in"} & {t.kind for t in housed.tasks if t.tree == "tollgate"}


def test_what_is_written_down_wins_over_what_is_worked_out() -> None:
    c = demo_collection()
    plain = of_kind(Book(c, SPRING), "repot", "mossback")[0]
    moved = plain.changed(day=date(2027, 3, 27), state="running")
    book = Book(replace(c, tasks=(moved,)), SPRING)
    # what it said is kept, whatever else it would be worked out to
    assert of_kind(book, "repot", "mossback") == [plain.changed(day=date(2027, 3, 27))]
    assert next(j for j in jobs(book, date(2027, 5, 1)) if j.task.id == moved.id).day == date(2027, 3, 27)


def unhurried() -> tuple[Planting, ...]:
    """The demo's plantings without the pot that was only for a while."""
    return tuple(p.changed(interim_until=None) for p in demo_collection().plantings)


def test_weekends_hold_what_the_user_gives_where_windows_allow_it() -> None:
    book = Book(replace(demo_collection(), tasks=(), orders={}, plantings=unhurried()), SPRING)
    rows = weekends(book, SPRING, date(2027, 6, 30))
    assert all(w.date.weekday() == 5 for w in rows)
    for w in rows:
        for job in w.jobs:
            assert saturday_of(job.day) == w.date
            first, last = job.task.from_, job.task.to
            assert first is not None
            assert last is not None
            assert first <= job.day <= last
    assert sum(w.hours for w in rows) == pytest.approx(sum(j.hours for j in jobs(book, date(2027, 6, 30))))
    gone = Habits(away=(Away(**{"from": date(2027, 3, 13), "to": date(2027, 3, 21)}),))
    away = weekends(Book(replace(book.c, habits=gone), SPRING), SPRING, date(2027, 6, 30))
    assert not [w for w in away if w.date in (date(2027, 3, 13), date(2027, 3, 20)) and w.jobs]


def test_a_moved_task_says_what_it_changes() -> None:
    book = Book(demo_collection(), SPRING)
    (one,) = of_kind(book, "repot", "mossback")
    assert one.to is not None
    late = moved_words(book, one, one.to + timedelta(days=3))
    assert not late.inside
    assert "3 days after its window" in late.words
    inside = moved_words(book, one, one.to - timedelta(days=1))
    assert inside.inside
    assert "you give 8" in inside.words


def test_every_kind_of_care_in_the_table_has_words() -> None:
    from kesh.advice.season.aftercare import care_rows

    assert {row.step for row in care_rows()} <= set(TASK_KINDS)
    assert kind_of("a_thing_of_tomorrow").words == "A thing of tomorrow"


def test_a_tree_without_any_date_and_a_log_of_the_future_stop_nothing() -> None:
    c = demo_collection()
    p = c.planting_of("mossback")
    assert p is not None
    bare = tuple(x.changed(date=None) if x.id == p.id else x for x in c.plantings)
    ahead = Event(id="ahead", tree="mossback", date=date(2099, 1, 1), kind="repotted")
    book = Book(replace(c, plantings=bare, events=(ahead,)), SPRING)
    assert book.dues["mossback"].day is None
    assert "last repotted" in book.dues["mossback"].unknown
    assert book.ledger("mossback").total == 0
    assert Book(Collection(), SPRING).tasks == ()
    leap = Book(c, date(2028, 2, 29))
    assert leap.windows["mossback"].season.first is not None


@pytest.mark.parametrize("day", [SPRING, date(9999, 12, 30), date(1, 1, 2)])
def test_a_year_typed_beyond_the_calendar_is_one_entry_and_not_the_end_of_the_list(day: date) -> None:
    c = demo_collection()
    p = c.planting_of("tollgate")
    assert p is not None
    end = date.max
    typed = p.changed(interim_until=end, ties=(Tie(id="a", holes=((0, 0),), over=((0, 0, 10),), off_by=end),))
    order = Order(id="chalk-oval", pot="chalk-oval", asked=end, promised=end)
    event = Event(id="typed", tree="mossback", date=end, kind="repotted")
    c = replace(
        c, plantings=tuple(typed if x.id == p.id else x for x in c.plantings), orders={"chalk-oval": order},
        events=(*c.events, event), habits=Habits(away=(Away(**{"from": end, "to": end}),)),
    )  # fmt: skip
    book = Book(c, day)
    assert [t.to for t in of_kind(book, "leave_interim", "tollgate")] == [end]
    assert [t.to for t in of_kind(book, "take_off_ties", "tollgate")] == [end]
    assert set(book.dues) == set(c.trees)
    assert weekends(book, day, later(day, 60))
    body = calendar_of(book, day, later(day, 366))
    assert body.startswith(b"BEGIN:VCALENDAR")
