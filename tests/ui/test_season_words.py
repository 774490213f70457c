"""Place Season and step Log without a window: spans, rows of marks, edits of tasks, what is written down and put right."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.season.asking import after, closer_looks
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.pot_round import Plan, spring_plan
from kesh.advice.season.weekends import jobs
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.desk import log
from kesh.desk.pot_round import FINE_DAYS, accept, accepted, rows_of, stays_words, title_of
from kesh.desk.season import (
    BEFORE_SHARE,
    LOGGED,
    SPANS,
    Span,
    done,
    matching,
    moved_to,
    next_line,
    row_of,
    span_of,
    with_answer,
)
from kesh.model import Answer, Collection, Event, Order, Task
from kesh.model.events import EventKind
from tests.kept import examples

DAY = date(2026, 3, 10)
DAYS = st.dates(min_value=date(1900, 1, 1), max_value=date(2200, 12, 31))


@pytest.fixture(scope="module")
def book() -> Book:
    return Book(demo_collection(), DAY)


@pytest.fixture(scope="module")
def plan(book: Book) -> Plan:
    return spring_plan(book)


def own(**fields: object) -> Task:
    plain = {"id": "own", "tree": "mossback", "kind": "prune", "from": DAY, "to": DAY + timedelta(days=20)}
    return Task.made(**(plain | fields))


def with_tasks(book: Book, *tasks: Task, today: date = DAY) -> Book:
    return Book(replace(book.c, tasks=(*book.c.tasks, *tasks)), today)


@given(day=DAYS, view=st.sampled_from(sorted(SPANS)))
def test_today_lies_near_the_left_edge_of_every_view(day: date, view: str) -> None:
    span = span_of(view, day)
    assert span.first <= day <= span.last
    assert (span.last - span.first).days + 1 == SPANS[view]
    # a view begins on the first of a month or on a Monday, so up to a month more may lie before today
    assert 0 <= span.share(day) <= BEFORE_SHARE + 31 / SPANS[view]
    if view == "year":
        assert span.first.day == 1
    if view == "weeks":
        assert span.first.weekday() == 0


@given(day=DAYS, days=st.integers(7, 400), at=st.integers(0, 399))
def test_a_day_and_its_place_are_told_back_and_forth(day: date, days: int, at: int) -> None:
    span = Span(day, days)
    there = span.first + timedelta(days=at % days)
    assert span.day_at(span.share(there) + 0.5 / days) == there
    assert span.moved(31).moved(-31) == span


@given(day=DAYS, days=st.integers(61, 400))
def test_months_follow_each_other_without_a_gap(day: date, days: int) -> None:
    span = Span(day, days)
    found = span.months()
    assert found[0][0] == span.first
    assert all(later.day == 1 and earlier < later for (earlier, _), (later, _) in pairwise(found))
    assert len({(d.year, d.month) for d, _ in found}) == len(found)
    last, first = span.last, span.first
    assert len(found) == (last.year - first.year) * 12 + last.month - first.month + 1
    assert all(name.endswith(str(d.year)) for d, name in found if d.month == 1)


@pytest.mark.parametrize("view", sorted(SPANS))
def test_marks_of_every_tree_lie_in_sight_and_in_order(book: Book, view: str) -> None:
    span = span_of(view, DAY)
    laid = {job.task.id: job for job in jobs(book, span.last, soil=False)}
    for tree in book.c.trees:
        row = row_of(book, tree, span, laid, close=view == "weeks")
        assert row.line
        assert row.status in ("", "fits", "watch", "no", "unknown")
        assert [(m.lane, m.first) for m in row.marks] == sorted((m.lane, m.first) for m in row.marks)
        for m in row.marks:
            assert m.first <= m.last
            assert m.look == "care" or (m.first <= span.last and m.last >= span.first)
            assert m.words
        # a window is drawn only where no repotting is laid in it
        looks = [m.look for m in row.marks]
        assert not ("window" in looks and any(t.kind == "repot" for t in book.tasks_of.get(tree, ())))


def test_close_up_every_step_of_aftercare_is_a_bar_of_its_own(book: Book) -> None:
    event = Event(id="new", tree="wicket", date=DAY - timedelta(days=2), kind="repotted")
    tended = Book(replace(book.c, events=(*book.c.events, event)), DAY)
    span = span_of("weeks", DAY)
    far = row_of(tended, "wicket", span, {}, close=False)
    near = row_of(tended, "wicket", span, {}, close=True)
    assert sum(m.look == "care" for m in far.marks) == 1
    assert sum(m.look == "care" for m in near.marks) > 2
    bar = next(m for m in far.marks if m.look == "care")
    assert bar.open_now
    assert bar.first == min(m.first for m in near.marks if m.look == "care")


def test_what_is_late_or_asked_is_told_before_all_else(book: Book) -> None:
    late = own(**{"from": DAY - timedelta(days=30), "to": DAY - timedelta(days=1)})
    assert next_line(with_tasks(book, late), "mossback") == ("Late: prune", "no")
    asked = own(kind="shade", **{"from": DAY - timedelta(days=9), "to": DAY})
    line, status = next_line(with_tasks(book, asked), "mossback")
    assert (line, status) == ("Shade: look", "watch")
    closed = asked.changed(state="done")
    assert next_line(with_tasks(book, closed), "mossback") == next_line(book, "mossback")


def test_trees_are_found_by_any_of_their_words_and_blank_finds_all(book: Book) -> None:
    assert matching(book, "  ") == list(book.c.trees)
    assert matching(book, "no tree has this in it") == []
    for tree, one in book.c.trees.items():
        assert tree in matching(book, one.name.upper())
        planting = book.now.get(tree)
        if planting is not None:
            assert tree in matching(book, book.c.pots[planting.pot].name)
    repotted = {t.tree for t in book.tasks if t.kind == "repot" and t.state not in ("done", "skipped")}
    assert repotted <= set(matching(book, kind_of("repot").words))


def test_a_task_laid_for_a_day_and_given_back() -> None:
    ((kind, _, laid),) = moved_to(own(), DAY + timedelta(days=3), DAY)
    assert kind == "answer"
    assert isinstance(laid, Answer)
    assert after(own(), [laid]).day == DAY + timedelta(days=3)
    ((_, key, back),) = moved_to(own(), None, DAY)
    # one day for one task: the later move stands in the place of the earlier
    assert key == laid.id
    assert isinstance(back, Answer)
    assert after(own(), [back]) == own()


@pytest.mark.parametrize(("answer", "state"), [("yes", "done"), ("not_yet", "extended"), ("worse", "extended")])
def test_every_answer_is_in_the_log_in_words(book: Book, answer: str, state: str) -> None:
    task = own(kind="shade", sign="new leaves are firm", to=DAY)
    changes = with_answer(book.c, task, answer, DAY)  # type: ignore[arg-type]
    assert len(changes) == 2
    kept = {kind: record for kind, _, record in changes}
    said = kept["answer"]
    assert isinstance(said, Answer)
    assert isinstance(kept["event"], Event)
    told = after(task, [said])
    assert (told.state, told.asked) == (state, DAY)
    assert len(closer_looks(task, [said])) == (answer == "worse")
    assert kept["event"].text == f"Shade: new leaves are firm {answer.replace('_', ' ')}."
    assert kept["event"].id not in {e.id for e in book.c.events}


@pytest.mark.parametrize("kind", ["prune", "feed", "bring_in", "misting", "check_ties", "a_thing_of_tomorrow"])
def test_what_is_done_stands_in_the_log_where_it_belongs_there(book: Book, kind: str) -> None:
    changes = done(book.c, own(kind=kind, text="Done by two.", minutes=40), DAY)
    assert isinstance(changes[0][2], Answer)
    assert (changes[0][2].said, changes[0][2].minutes) == ("yes", 40)
    events = [record for what, _, record in changes if what == "event"]
    assert len(events) == (kind in LOGGED)
    for event in events:
        assert isinstance(event, Event)
        assert (event.kind, event.minutes, event.text) == (LOGGED[kind], 40, "Done by two.")


# --- who gets which pot ----------------------------------------------------------------------------------------------


def test_rows_of_the_plan_speak_of_the_same_moves(book: Book, plan: Plan) -> None:
    rows = rows_of(book, plan)
    assert [r.move for r in rows] == list(plan.moves)
    by_tree = {r.move.tree: r for r in rows}
    assert by_tree["mossback"].ends_words == "Makes room for Honeyjar"
    assert by_tree["honeyjar"].free_words.startswith("after Mossback, ")
    assert by_tree["honeyjar"].ends_words.startswith("Wrong now: ")
    # what the move takes of the tree stands beside why it moves
    assert by_tree["honeyjar"].ends_words.endswith(f"Takes {by_tree['honeyjar'].move.takes}")
    assert by_tree["wicket"].free_words == "on the shelf"
    assert not any(r.accepted for r in rows)
    # the row that frees a pot stands above the one that takes it
    order = [r.move.tree for r in rows]
    assert all(order.index(r.move.frees) < order.index(r.move.tree) for r in rows if r.move.frees is not None)


def test_a_pot_that_comes_free_late_is_cut_fine(book: Book, plan: Plan) -> None:
    honeyjar = next(m for m in plan.moves if m.tree == "honeyjar")
    assert honeyjar.last is not None
    for days, tight in ((FINE_DAYS - 1, True), (FINE_DAYS, False)):
        moves = tuple(
            replace(m, day=honeyjar.last - timedelta(days=days)) if m.tree == "mossback" else m for m in plan.moves
        )
        row = next(r for r in rows_of(book, replace(plan, moves=moves)) if r.move.tree == "honeyjar")
        assert row.tight is tight
        assert row.free_words == f"after Mossback, {days} days to spare"


def test_a_promised_pot_says_its_day(book: Book, plan: Plan) -> None:
    key = next(m.to_pot for m in plan.moves if m.tree == "wicket")
    ordered = book.c.pots[key].changed(state="ordered", made_for="wicket")
    order = Order(id=key, pot=key, promised=date(2026, 3, 20))
    c = replace(book.c, pots=dict(book.c.pots) | {key: ordered}, orders=dict(book.c.orders) | {key: order})
    row = next(r for r in rows_of(Book(c, DAY), plan) if r.move.tree == "wicket")
    assert row.free_words == "promised for 20 Mar"


def test_what_is_taken_on_is_chosen_kept_and_laid(book: Book, plan: Plan) -> None:
    chain = plan.chain_of("honeyjar")
    assert [m.tree for m in chain] == ["mossback", "honeyjar"]
    changes = accept(book, chain)
    kept = {(kind, key): record for kind, key, record in changes}
    assert len(kept) == len(changes) == 5
    c = replace(
        book.c,
        lineups=dict(book.c.lineups) | {k: r for (what, k), r in kept.items() if what == "lineup"},  # type: ignore[dict-item]
        pots=dict(book.c.pots) | {k: r for (what, k), r in kept.items() if what == "pot"},  # type: ignore[dict-item]
    )
    for m in chain:
        assert accepted(c, m)
        pot = c.pots[m.to_pot]
        assert pot.reserved is not None
        assert (pot.reserved.tree, pot.reserved.season) == (m.tree, "2026")
    # the one that waits for a pot has its day, the one that does not keeps the lightest weekend
    c = replace(c, answers=tuple(r for (what, _), r in kept.items() if what == "answer" and isinstance(r, Answer)))
    tasks = {t.tree: t for t in Book(c, DAY).tasks if t.kind == "repot"}
    assert tasks["honeyjar"].day == chain[1].day
    assert tasks["mossback"].day is None
    assert tasks["honeyjar"].pot == "broom-oval"


def test_titles_of_plans(book: Book, plan: Plan) -> None:
    assert title_of(plan) == "4 trees move"
    one = replace(plan, moves=plan.moves[:1], stay=())
    assert title_of(one) == "1 tree moves"
    assert title_of(spring_plan(Book(Collection(), DAY))) == "No tree is due, and every pot will do"
    stays = next(s for s in plan.stay if s.score is not None)
    assert stays_words(book, stays).startswith(f"{stays.score:.0f} of 100")
    assert stays_words(book, replace(stays, score=None)) == stays.why


# --- the log ---------------------------------------------------------------------------------------------------------


@given(day=DAYS)
@settings(max_examples=examples(60))
def test_days_are_read_back_as_they_are_written(day: date) -> None:
    assert log.read_day(day.isoformat(), DAY) == day
    for words in (f"{day:%d} {day:%b} {day:%Y}", f"{day.day} {day:%B} {day.year}", f" {day.day}. {day:%b} {day.year} "):
        assert log.read_day(words, DAY) == day


@pytest.mark.parametrize(
    "text", ["someday", "31 Feb 2025", "2025-02-30", "3/4/2025", "12", "17 Mxr 2025", "1 Jan 0000"]
)
def test_no_day_is_guessed(text: str) -> None:
    with pytest.raises(FieldError, match=r"(?:is no day|can be two days).*; write it as"):
        log.read_day(text, DAY)


@given(share=st.integers(0, 100))
def test_shares_are_the_same_with_sign_and_comma(share: int) -> None:
    assert log.read_share(f"{share} %") == pytest.approx(share / 100)
    assert log.read_share(f"{share / 100:.2f}".replace(".", ",")) == pytest.approx(share / 100)


@pytest.mark.parametrize("text", ["", "half", "-5 %", "101", "nan", "inf %", "20 % 30"])
def test_a_share_that_is_none_is_a_sentence(text: str) -> None:
    with pytest.raises(FieldError, match=r"is no share|outside 0 to 100"):
        log.read_share(text)


@given(of=st.integers(1, 500), data=st.data())
def test_counts_keep_their_whole(of: int, data: st.DataObject) -> None:
    high = data.draw(st.integers(0, of))
    low = data.draw(st.integers(0, high))
    found = dict(log.read_figures("propagated", f"{low} - {high} of {of}"))
    whole = {"of": of, "rooted": low} if low == high else {"of": of, "rooted_low": low, "rooted_high": high}
    assert found == whole
    with pytest.raises(FieldError, match="cannot be"):
        log.read_figures("propagated", f"{of + 1} of {of}")
    if low < high:
        with pytest.raises(FieldError, match="cannot be"):
            log.read_figures("experiment", f"{high} to {low} of {of}")


@pytest.mark.parametrize("kind", sorted(log.WRITTEN))
def test_every_kind_that_can_be_written_down_is_an_entry(kind: EventKind) -> None:
    c = demo_collection()
    ((what, key, event),) = log.written(c, "mossback", kind, DAY, "  as it was  ", minutes=12, cost=3.5)
    assert what == "event"
    assert isinstance(event, Event)
    assert (event.kind, event.text, event.minutes, event.cost) == (kind, "as it was", 12, 3.5)
    assert key not in {e.id for e in c.events}
    assert log.read_figures(kind, "   ") == ()


@pytest.mark.parametrize("sight", [s for s in log.SIGHTS if s[0]], ids=lambda s: s[2])
def test_every_sight_is_a_sign_of_the_tree_or_asks_for_its_figure(sight: tuple[str, str, str, str]) -> None:
    tree = demo_collection().trees["mossback"]
    ((_, _, seen),) = log.with_sight(tree, sight, "45,5", DAY)
    assert type(seen) is type(tree)
    assert seen.signs[: len(tree.signs)] == tree.signs
    new = seen.signs[-1]
    assert (new.sign, new.date) == (sight[0], DAY)
    assert new.value == (sight[1] or "45.5")
    if sight[3]:
        for wrong in ("", "much", "-1", "nan", "1e9"):
            with pytest.raises(FieldError, match="write how many"):
                log.with_sight(tree, sight, wrong, DAY)


def test_an_entry_put_right_twice_tells_both_and_once_more_the_same_tells_nothing() -> None:
    event = Event(
        id="e", tree="mossback", date=DAY, kind="repotted", text="repoted", figures=(("removed_feeder_share", 0.3),)
    )
    once = log.put_right(event, DAY, text="repotted", minutes=90.0)
    twice = log.put_right(once, DAY + timedelta(days=1), figures=(("removed_feeder_share", 0.25),))
    assert [(x.field, x.was) for x in twice.corrections] == [
        ("text", "repoted"), ("minutes", "nothing"), ("figures", "removed_feeder_share 0.3"),
    ]  # fmt: skip
    assert log.put_right(twice, DAY, text="repotted") is twice
    with pytest.raises(FieldError):
        log.put_right(event, DAY, minutes=-1.0)


def test_a_species_that_was_taken_for_another_is_kept() -> None:
    c = demo_collection()
    tree = c.trees["mossback"]
    other = next(t.species for t in c.trees.values() if t.species not in (None, tree.species))
    ((_, _, after),) = log.species_put_right(c, [("tree", tree.id, tree.changed(species=other))], DAY)
    assert [(x.on, x.field, x.was) for x in getattr(after, "corrections", ())] == [(DAY, "species", tree.species)]
    same = [("tree", tree.id, tree.changed(name="Mossback the elder"))]
    assert log.species_put_right(c, same, DAY) == same  # type: ignore[arg-type]
