"""The ledger of tasks: events and answers are kept, all else is worked out. An answer touches its own task only."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import icalendar
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.season.asking import CLOSED, answer_to
from kesh.advice.season.book import Book, source_of
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import jobs
from kesh.demo.lanternfield import demo_collection
from kesh.desk.deleting import without_pot, without_tree
from kesh.desk.season import done, left_out, moved_to, with_answer
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.formats.ical import hand_over
from kesh.model import Answer, Away, Collection, Day, Event, Habits, Lineup, Task
from kesh.store.records import with_changes
from tests.kept import examples

DAY = date(2026, 4, 20)
DEMO = replace(demo_collection(), tasks=())
SAID = ("yes", "not_yet", "worse", "left_out", "moved")


def repotted(tree: str, day: date, key: str = "r", share: float = 0.3) -> Event:
    return Event(
        id=key, tree=tree, date=day, kind="repotted", figures=(("removed_feeder_share", share), ("wires", 2.0))
    )


def care(book: Book, event: str) -> dict[str, Task]:
    return {t.kind: t for t in book.tasks if t.event == event}


def with_event(c: Collection, *events: Event) -> Collection:
    return replace(c, events=(*c.events, *events))


def answered(c: Collection, *answers: Answer) -> Collection:
    return replace(c, answers=(*c.answers, *answers))


def test_an_answer_to_one_step_leaves_the_other_sixteen_alone() -> None:
    c = with_event(DEMO, repotted("mossback", DAY - timedelta(days=20)))
    book = Book(c, DAY)
    steps = care(book, "r")
    assert len(steps) > 12
    shade = steps["shade"]
    now = Book(with_changes(c, with_answer(c, shade, "yes", DAY)), DAY)
    after = care(now, "r")
    assert after.keys() == steps.keys()
    assert after.pop("shade").state == "done"
    steps.pop("shade")
    assert after == steps


@settings(max_examples=examples(60))
@given(data=st.data())
def test_any_order_of_the_same_answers_gives_the_same_book(data: st.DataObject) -> None:
    c = with_event(DEMO, repotted("mossback", DAY - timedelta(days=20)))
    before = Book(c, DAY)
    rows = [t for t in before.tasks if t.from_ is not None][:60]
    picked = data.draw(st.lists(st.sampled_from(rows), min_size=1, max_size=5, unique_by=lambda t: t.id))
    answers = []
    for task in picked:
        said = data.draw(st.lists(st.sampled_from(SAID), min_size=1, max_size=3, unique=True))
        answers += [
            answer_to(
                task, word, DAY + timedelta(days=data.draw(st.integers(-30, 30))), to=DAY if word == "moved" else None
            )
            for word in said
        ]
    one = Book(answered(c, *answers), DAY).tasks
    other = Book(answered(c, *data.draw(st.permutations(answers))), DAY).tasks
    assert one == other
    # nothing but the tasks that were answered has changed; of what repeats the next one comes
    named = {t.id for t in picked}
    trees = {t.tree for t in picked}
    kept = {t.id: t for t in one}
    for task in before.tasks:
        if task.id in named or (task.tree in trees and kind_of(task.kind).sort in ("feed", "cover")):
            continue
        assert kept[task.id] == task
    assert not {t.id for t in one if t.tree not in trees} - {t.id for t in before.tasks}


def test_a_repotting_closes_its_task_by_whatever_door_it_came_in() -> None:
    tree = next(t.tree for t in Book(DEMO, date(2026, 3, 10)).tasks if t.kind == "repot" and t.from_ is not None)
    book = Book(DEMO, date(2026, 3, 10))
    task = next(t for t in book.tasks if t.kind == "repot" and t.tree == tree)
    assert task.from_ is not None
    # laid for a day by hand, as an accepted or a dragged move was written down by older files, and by today's answer
    late = task.from_ + timedelta(days=120)
    stored = replace(DEMO, tasks=(task.changed(day=task.from_, state="running"),))
    said = answered(DEMO, answer_to(task, "moved", task.from_, to=task.from_))
    for c in (stored, said):
        done_ = Book(with_event(c, repotted(tree, task.from_ + timedelta(days=3))), late)
        assert not [t for t in done_.open_tasks() if t.kind == "repot" and t.tree == tree and t.id == task.id]


def test_a_later_repotting_ends_the_steps_of_the_earlier() -> None:
    first, second = (
        repotted("mossback", DAY - timedelta(days=60), "one"),
        repotted("mossback", DAY - timedelta(days=5), "two"),
    )
    old = tuple(Book(with_event(DEMO, first), DAY).tasks)
    stored = tuple(t for t in old if t.event == "one")
    for tasks in ((), stored):
        book = Book(with_event(replace(DEMO, tasks=tasks), first, second), DAY)
        assert not [t for t in book.open_tasks() if t.event == "one"]
        assert [t for t in book.open_tasks() if t.event == "two"]
        # a repotting of another tree ends nothing of this one
        other = Book(with_event(replace(DEMO, tasks=tasks), first, replace_tree(second, "honeyjar")), DAY)
        assert [t for t in other.open_tasks() if t.event == "one"]


def replace_tree(event: Event, tree: str) -> Event:
    return event.changed(tree=tree)


def feeds(c: Collection, day: date, tree: str = "honeyjar") -> list[Task]:
    return [t for t in Book(c, day).tasks if t.kind == "feed" and t.tree == tree]


def test_a_feed_that_was_given_brings_the_next_one_until_the_season_ends() -> None:
    day = date(2026, 6, 1)
    c = DEMO
    (one,) = feeds(c, day)
    assert one.state not in CLOSED
    given_ = 0
    for _ in range(40):
        open_ = [t for t in feeds(c, day) if t.state not in CLOSED]
        if not open_:
            break
        task = open_[0]
        assert task.from_ is not None
        day = max(task.from_, day)
        c = with_changes(c, done(c, task, day))
        given_ += 1
    assert given_ > 3
    ids = [t.id for t in feeds(c, day)]
    assert len(ids) == len(set(ids)) == given_
    assert [e for e in c.events if e.kind == "fed" and e.tree == "honeyjar"]


def test_feeding_waits_for_the_weeks_without_feed() -> None:
    c = with_event(DEMO, repotted("honeyjar", date(2026, 5, 20)))
    book = Book(c, date(2026, 5, 21))
    pause, feed = care(book, "r")["no_fertiliser"], feeds(c, date(2026, 5, 21))
    assert pause.to is not None
    assert all(t.from_ is not None and t.from_ >= pause.to for t in feed)
    # the sign that ends the pause ends the waiting
    over = with_changes(c, with_answer(c, pause, "yes", date(2026, 6, 8)))
    assert feeds(over, date(2026, 6, 9))[0].from_ < pause.to


def cold(day: date, *, from_: int = 1, to: int = 5) -> Collection:
    assert DEMO.site is not None
    rows = tuple(
        Day(date=day + timedelta(days=n), tmin_c=-16 if from_ <= n <= to else 4, tmax_c=6, rain_mm=0, forecast=True) for n in range(14)
    )  # fmt: skip
    jade = DEMO.trees["tollgate"].changed(species="jade")
    return replace(DEMO, site=DEMO.site.changed(daily=rows), trees=DEMO.trees | {"tollgate": jade})


@pytest.mark.parametrize(("kind", "tree"), [("bring_in", "tollgate"), ("frost_cover", "honeyjar")])
def test_what_the_cold_asks_is_asked_once_and_has_a_way_back(kind: str, tree: str) -> None:
    day = date(2026, 11, 2)
    c = cold(day)
    task = next(t for t in Book(c, day).tasks if t.kind == kind and t.tree == tree)
    c = with_changes(c, done(c, task, day))
    for n in range(5):
        # the forecast moves on day by day: nothing new is asked
        moved = replace(c, site=cold(day + timedelta(days=n), from_=1, to=4).site)
        rows = [t for t in Book(moved, day + timedelta(days=n)).open_tasks() if t.tree == tree]
        assert kind not in {t.kind for t in rows}
        assert {"bring_in": "bring_out", "frost_cover": "uncover"}[kind] in {t.kind for t in rows}
    back = next(t for t in rows if t.kind in ("bring_out", "uncover"))
    assert back.from_ is not None
    out = max(back.from_, day + timedelta(days=6))
    c = with_changes(c, done(c, back, out))
    later_ = replace(c, site=cold(out + timedelta(days=30)).site)
    again = [t for t in Book(later_, out + timedelta(days=30)).open_tasks() if t.tree == tree and t.kind == kind]
    assert len(again) == 1
    assert again[0].id != task.id


def test_days_on_which_nobody_is_there_carry_nothing_unless_somebody_is_named() -> None:
    day = date(2026, 3, 1)
    gone = Away(**{"from": date(2026, 3, 1)}, to=date(2026, 4, 19))
    c = replace(DEMO, habits=Habits(away=(gone,)))
    laid = jobs(Book(c, day), date(2026, 8, 31), soil=False)
    assert laid
    assert not [j for j in laid if gone.from_ <= j.day <= gone.to]
    # not all on the day after either
    most = max(sum(j.day == d for j in laid) for d in {j.day for j in laid})
    assert most < len(laid)
    named = replace(c, habits=Habits(away=(gone.changed(keeper=True),)))
    assert [j for j in jobs(Book(named, day), date(2026, 5, 31), soil=False) if gone.from_ <= j.day <= gone.to]


# --- what goes takes its tasks along -----------------------------------------------------------------------------------


def test_deleting_and_undoing_is_the_identity() -> None:
    book = Book(DEMO, DAY)
    task = next(t for t in book.tasks if t.tree == "honeyjar" and t.from_ is not None)
    c = answered(DEMO, answer_to(task, "moved", DAY, to=DAY))
    own = Task.made(id="own-1", tree="honeyjar", kind="look", to=DAY, pot="ferry-tray", **{"from": DAY})
    c = replace(c, tasks=(own,))
    whole = Book(c, DAY).tasks
    for changes, _ in (without_tree(c, "honeyjar"), without_pot(c, "ferry-tray")):
        back = [(kind, key, _held(c, kind, key)) for kind, key, _ in changes]
        gone = with_changes(c, changes)
        assert own.id not in {t.id for t in Book(gone, DAY).tasks}
        again = with_changes(gone, back)
        assert sorted(Book(again, DAY).tasks, key=lambda t: t.id) == sorted(whole, key=lambda t: t.id)
    assert not [a for a in with_changes(c, without_tree(c, "honeyjar")[0]).answers]


def _held(c: Collection, kind: str, key: str) -> object:
    from kesh.store.records import all_records

    return next((record for k, i, record in all_records(c) if (k, i) == (kind, key)), None)


# --- a calendar ----------------------------------------------------------------------------------------------------------


def entries(body: bytes) -> dict[str, icalendar.Event]:
    return {str(e["uid"]): e for e in icalendar.Calendar.from_ical(body).walk("VEVENT")}


def handed(c: Collection, day: date, hour: int) -> tuple[Collection, dict[str, icalendar.Event]]:
    out = hand_over(Book(c, day), day, day + timedelta(days=200), datetime(2026, 4, 20, hour, tzinfo=UTC))
    return replace(c, calendar={one.id: one for one in out.given}), entries(out.body)


def test_an_entry_that_was_given_is_changed_and_never_doubled() -> None:
    c = with_event(DEMO, repotted("mossback", DAY - timedelta(days=20)))
    c, first = handed(c, DAY, 8)
    shade = care(Book(c, DAY), "r")["no_fertiliser"]
    uid = c.calendar[shade.id].uid
    assert str(first[uid]["status"]) == "CONFIRMED"
    c = with_changes(c, done(c, shade, DAY))
    c, second = handed(c, DAY, 9)
    assert str(second[uid]["status"]) == "CANCELLED"
    assert int(second[uid]["sequence"]) > int(first[uid]["sequence"])
    assert set(second) >= set(first)
    # a name of its own is no other calendar
    c, third = handed(replace(c, name="Another name"), DAY, 10)
    assert uid not in third
    assert set(third) <= set(second)


def test_what_is_gone_is_cancelled_under_its_id() -> None:
    c = with_event(DEMO, repotted("mossback", DAY - timedelta(days=20)))
    c, first = handed(c, DAY, 8)
    mine = {one.uid for one in c.calendar.values() if one.tree == "mossback"}
    assert mine
    gone = with_changes(c, without_tree(c, "mossback")[0])
    gone, second = handed(gone, DAY, 9)
    assert {str(second[uid]["status"]) for uid in mine} == {"CANCELLED"}
    assert not mine & set(handed(gone, DAY, 10)[1])
    assert first.keys() >= mine


def test_a_moved_job_moves_its_entry() -> None:
    day = date(2026, 3, 1)
    c, first = handed(DEMO, day, 8)
    task = next(t for t in Book(c, day).open_tasks() if t.kind == "repot" and t.from_ is not None and t.from_ > day)
    to = task.from_ + timedelta(days=1)  # type: ignore[operator]
    c = with_changes(c, moved_to(task, to, day))
    uid = c.calendar[task.id].uid
    _, second = handed(c, day, 9)
    assert second[uid].decoded("dtstart") == to
    assert set(second) == set(first)


# --- older files ---------------------------------------------------------------------------------------------------------


def test_tasks_that_older_files_wrote_down_whole_keep_what_was_said() -> None:
    c = with_event(DEMO, repotted("mossback", DAY - timedelta(days=20)))
    steps = care(Book(c, DAY), "r")
    shade, mist, still = steps["shade"], steps["misting"], steps["keep_still"]
    feed = Task.made(
        id="feed-honeyjar-2026",
        tree="honeyjar",
        kind="feed",
        state="done",
        asked=date(2026, 5, 10),
        to=date(2026, 9, 1),
        **{"from": date(2026, 5, 1)},
    )
    came_in = [
        Task.made(
            id=f"in-tollgate-2026040{n}",
            tree="tollgate",
            kind="bring_in",
            state="done",
            asked=date(2026, 4, n),
            to=date(2026, 4, n),
            **{"from": date(2026, 4, n)},
        )
        for n in range(1, 5)
    ]
    own = Task.made(
        id="own-7", tree="honeyjar", kind="prune", state="skipped", asked=DAY, note="too weak", to=DAY, **{"from": DAY}
    )
    foreign = Task.made(id="shade-by-hand", tree="mossback", kind="wind_shelter", event="r", to=DAY, **{"from": DAY})
    old = replace(c, tasks=(
        shade.changed(state="done", asked=DAY), mist.changed(state="extended", times=1, asked=DAY, to=DAY + timedelta(days=9)),
        still.changed(state="skipped", asked=DAY, note="not tied"), feed, *came_in, own, foreign,
    ))  # fmt: skip
    jade = old.trees["tollgate"].changed(species="jade")
    book = Book(replace(old, trees=old.trees | {"tollgate": jade}), DAY)
    now = care(book, "r")
    assert now.keys() == steps.keys()
    assert (now["shade"].state, now["shade"].asked) == ("done", DAY)
    assert (now["misting"].state, now["misting"].times) == ("extended", 1)
    assert (now["keep_still"].state, now["keep_still"].note) == ("skipped", "not tied")
    assert now["wind_shelter"].id == "shade-by-hand"
    by_id = {t.id: t for t in book.tasks}
    assert by_id["own-7"].note == "too weak"
    # one feed given is one feed given
    fed = feeds(old, date(2026, 5, 11))
    assert [t.state in CLOSED for t in fed] == [True, False]
    assert not [
        t
        for t in book.open_tasks()
        if t.kind == "bring_in" and t.tree == "tollgate" and t.from_ is not None and t.from_ < date(2026, 8, 1)
    ]
    assert len({t.id for t in book.tasks}) == len(book.tasks)


def test_answers_travel_in_a_bundle() -> None:
    task = next(t for t in Book(DEMO, DAY).tasks if t.from_ is not None)
    c = answered(DEMO, answer_to(task, "left_out", DAY, note="= not this year"))
    c, _ = handed(c, DAY, 8)
    back = read_bundle(bundle_of(c))
    assert back.answers == c.answers
    assert back.calendar == c.calendar
    assert Book(back, DAY).tasks == Book(c, DAY).tasks


def test_every_task_says_where_it_comes_from() -> None:
    c = with_event(
        replace(demo_collection(), lineups={"honeyjar": Lineup(id="honeyjar", chosen="ferry-tray")}),
        repotted("mossback", DAY),
    )
    found = {source_of(t) for t in Book(c, DAY).tasks}
    assert found >= {"window", "repotting", "feeding", "own"}
    assert left_out(Book(c, DAY).tasks[0], "why", DAY)[0][0] == "answer"
