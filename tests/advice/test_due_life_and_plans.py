"""When a tree is due, its life along time, what the log taught, and the plans of pots: rules that must hold."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from kesh.advice.season.book import Book
from kesh.advice.season.due import after_years
from kesh.advice.season.lessons import pairs, tallies, taught
from kesh.advice.season.life import Life
from kesh.advice.season.life_findings import life_findings
from kesh.advice.season.pot_round import Plan, spring_plan
from kesh.advice.season.pot_years import pot_years
from kesh.advice.season.season_findings import season_findings
from kesh.advice.season.supplies import supplies
from kesh.advice.season.weekends import strain_of, weekends
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.model import Away, Collection, Event, Habits, Keeping, Order, Reservation, SeasonViews, Sign, Tree
from kesh.science.season.season import Own, season_at, year_at

DAY = date(2026, 3, 10)


@pytest.fixture(scope="module")
def book() -> Book:
    return Book(demo_collection(), DAY)


def with_tree(c: Collection, tree: Tree) -> Collection:
    return replace(c, trees=dict(c.trees) | {tree.id: tree})


def with_views(c: Collection, tree: str, **views: str) -> Collection:
    brief = Book(c, DAY).brief(tree).changed(season_views=SeasonViews(**views))  # type: ignore[arg-type]
    return replace(c, briefs=dict(c.briefs) | {tree: brief})


def test_years_later_and_leap_days() -> None:
    assert after_years(date(2024, 2, 29), 1) == date(2025, 2, 28)
    assert after_years(date(2024, 2, 29), 4) == date(2028, 2, 29)
    assert after_years(date(2026, 12, 31), 0.5) == date(2027, 7, 2)
    assert after_years(date(9990, 1, 1), 200) == date.max


def test_both_ways_of_being_due_are_told_and_the_trusted_one_sets_the_day(book: Book) -> None:
    due = book.dues["old-ferryman"]
    assert due.by_fill is not None
    assert due.by_years == (date(2027, 3, 28), date(2030, 3, 28))
    assert due.day == due.by_fill
    assert not due.now
    by_years = Book(with_views(book.c, "old-ferryman", due="years"), DAY).dues["old-ferryman"]
    first, last = due.by_years
    assert by_years.day == first + (last - first) // 2


def test_what_is_due_before_the_next_chance_is_done_in_this_window(book: Book) -> None:
    for tree, due in book.dues.items():
        window = book.windows[tree].season
        assert window.first is not None
        if due.last is None:
            # planted later this year than the day of the book
            assert "write down" in due.unknown
            assert not due.now
            continue
        assert due.day is not None
        assert due.now == (due.day < window.first + timedelta(days=365)), tree
    assert sum(due.last is not None for due in book.dues.values()) >= 13


def test_a_tree_that_was_just_repotted_is_not_due_in_the_same_window(book: Book) -> None:
    event = Event(id="now", tree="tollgate", date=DAY, kind="repotted", figures=(("removed_feeder_share", 0.4),))
    after = Book(replace(book.c, events=(*book.c.events, event)), DAY + timedelta(days=1))
    assert not [t for t in after.tasks if t.tree == "tollgate" and t.kind == "repot"]
    assert after.dues["tollgate"].last == DAY


def test_buds_of_its_kind_move_a_tree_a_little_and_its_own_move_it_all(book: Book) -> None:
    species = book.c.trees["tollgate"].species
    others = [
        book.c.trees["mossback"].changed(species=species),
        book.c.trees["wicket"].changed(species=species, signs=()),
    ]
    c = with_tree(with_tree(book.c, others[0]), others[1])
    year = year_at(c.site)
    assert year is not None
    assert year.swell is not None
    usual = year.date_in(year.swell, 2026)
    late = c.trees["mossback"].changed(signs=(Sign(date=usual + timedelta(days=9), sign="buds", value="swelling"),))
    early = c.trees["tollgate"].changed(signs=(Sign(date=usual - timedelta(days=3), sign="buds", value="swelling"),))
    found = Book(with_tree(with_tree(c, late), early), date(2026, 3, 25)).windows
    first = found["wicket"].season.first
    assert first is not None
    # two others: (9 - 3)/(2 + 2) days
    assert first == usual + timedelta(days=round((9 - 3) / 4))
    assert found["tollgate"].season.first == usual - timedelta(days=3)
    assert "of 2 others of its kind" in found["wicket"].season.why


def test_shelter_and_the_later_view_move_the_season(book: Book) -> None:
    maple, site = book.species(book.c.trees["tollgate"]), book.c.site
    outside = season_at(maple, DAY, site)
    glass = season_at(maple, DAY, site, own=Own(shelter="glass"))
    assert outside is not None
    assert glass is not None
    assert outside.first is not None
    assert glass.first is not None
    assert glass.first < outside.first
    assert "under glass" in glass.why
    room = year_at(site, "indoors")
    assert room is not None
    assert room.rough
    assert room.last_frost is None
    late = season_at(maple, DAY, site, own=Own(late=True))
    assert late is not None
    assert late.window != outside.window
    # trees after flowering keep their time, and the last flower that fell sets it
    azalea = book.species(book.c.trees["evening-bell"])
    own = Own(late=True, flowered=(date(2026, 6, 2),))
    after = season_at(azalea, date(2026, 6, 20), site, own=own)
    assert after is not None
    assert (after.window, after.first, after.last, after.status) == (
        "after_flowering",
        date(2026, 6, 9),
        date(2026, 7, 7),
        "best",
    )
    assert "last flower" in after.why


def test_a_life_lies_on_the_line_between_measures(book: Book) -> None:
    life = Life(book, book.c.trees["tollgate"])
    tree, measured = life.as_large_as(date(2018, 9, 16))
    a, b = date(2017, 9, 17), date(2019, 9, 15)
    want = 318 + (352 - 318) * (date(2018, 9, 16) - a).days / (b - a).days
    assert tree.measure.height_mm == pytest.approx(want, abs=0.1)
    assert measured
    before, measured = life.as_large_as(date(2005, 1, 1))
    assert before.measure.height_mm == 165
    assert not measured
    assert [s.pot.id for s in life.stands][-1] == "gate-oval"
    assert all(a.first <= b.first for a, b in zip(life.stands, life.stands[1:], strict=False))
    first, last = life.span
    assert first == date(2012, 1, 1)
    assert last.year == DAY.year + 3


def test_only_what_was_written_down_is_drawn_as_known(book: Book) -> None:
    life = Life(book, book.c.trees["tollgate"])
    known = [k for _, _, _, k in life.fillings]
    assert known == [False, False, False, False, False, True]
    for first, last, curve, _ in life.fillings:
        end = last or first + timedelta(days=700)
        assert curve.at(first) <= curve.at(end) <= 1


def test_planned_beside_done_and_what_it_taught(book: Book) -> None:
    event = next(e for e in book.c.events if e.tree == "tollgate" and e.planned)
    found = {p.key: p for p in pairs(book.c, event)}
    assert (found["removed_feeder_share"].planned, found["removed_feeder_share"].done) == (
        pytest.approx(40),
        pytest.approx(46),
    )
    assert found["minutes"].done == 170
    assert not found["minutes"].as_planned
    assert found["soil_l"].as_planned
    # two timed repottings against a default that counts for three
    ratios = [170 / 135, 205 / 180]
    assert taught(book.c, "minutes")[0] == f"you take {(3 + sum(ratios)) / 5:.2f} × the plan"
    assert book.pace.value == pytest.approx((3 + sum(ratios)) / 5)
    assert [t.count.of for t in tallies(book.c.events_of("evening-bell"))] == [24]
    wrong = Event(id="w", tree="tollgate", date=DAY, kind="experiment", figures=(("alive", 3.0),))
    assert tallies((wrong,)) == ()


def check(plan: Plan, book: Book) -> None:
    into = [m.to_pot for m in plan.moves]
    assert len(into) == len(set(into))
    moved = {m.tree for m in plan.moves}
    held = {p.pot: t for t, p in book.now.items()}
    by_tree = {m.tree: m for m in plan.moves}
    for m in plan.moves:
        owner = held.get(m.to_pot)
        assert owner is None or owner in moved
        assert m.frees == owner
        pot = book.c.pots[m.to_pot]
        assert pot.reserved is None or pot.reserved.tree == m.tree
        if owner is not None and m.day is not None:
            freed = by_tree[owner].day
            assert freed is None or freed <= m.day
        assert m.last is None or m.day is None or m.day <= m.last
    order = [m.tree for m in plan.moves]
    for m in plan.moves:
        if m.frees in order and by_tree[m.frees].frees != m.tree:  # type: ignore[index]
            assert order.index(m.frees) < order.index(m.tree)  # type: ignore[arg-type]


def test_chains_reservations_refusals_and_orders_are_kept(book: Book) -> None:
    plan = spring_plan(book)
    check(plan, book)
    freed = {m.tree: m.frees for m in plan.moves if m.frees is not None}
    assert freed
    # who would do as well where it stands is told to move for the other's sake
    assert {m.tree: m.room_for for m in plan.moves if m.room_for is not None}.items() <= {
        b: a for a, b in freed.items()
    }.items()
    # a tree that fits where it stands is left alone, or moved only for what it gains; each move says what it takes of the tree
    for m in plan.moves:
        assert m.takes
        assert m.room_for is not None or m.score_before is None or m.gain >= 4 - 1e-9 or m.why
    # a pot kept for another is not given away, one that is refused neither
    taken = plan.moves[0].to_pot
    kept = book.c.pots[taken].changed(reserved=Reservation(tree="grey-heron"))
    other = Book(replace(book.c, pots=dict(book.c.pots) | {taken: kept}), DAY)
    again = spring_plan(other, refused=[(plan.moves[1].tree, plan.moves[1].to_pot)])
    check(again, other)
    assert taken not in {m.to_pot for m in again.moves if m.tree != "grey-heron"}
    assert (plan.moves[1].tree, plan.moves[1].to_pot) not in {(m.tree, m.to_pot) for m in again.moves}
    assert again.cost >= plan.cost - 1e-9
    # a pot on order serves its tree when it is promised in time
    ordered = book.c.pots["map-case"].changed(state="ordered", made_for="cartographer")
    for promised, comes in ((date(2026, 4, 20), True), (date(2026, 8, 1), False)):
        c = replace(
            book.c,
            pots=dict(book.c.pots) | {"map-case": ordered},
            orders={"map-case": Order(id="map-case", pot="map-case", promised=promised)},
        )
        moves = {m.tree: m.to_pot for m in spring_plan(Book(c, DAY)).moves}
        assert (moves.get("cartographer") == "map-case") == comes


def test_a_tree_whose_roots_nobody_saw_gets_no_pot_by_guess(book: Book) -> None:
    plan = spring_plan(book)
    assert "tidewater" not in {m.tree for m in plan.moves}
    assert spring_plan(Book(Collection(), DAY)).moves == ()


def test_pots_over_the_years_obey_interval_and_views(book: Book) -> None:
    plan = pot_years(book, "tollgate")
    assert all(b - a >= 2 for a, b in zip(plan.path.moves, plan.path.moves[1:], strict=False))
    high = [t.measure.height_mm or 0 for t in plan.trees]
    assert high == sorted(high)
    assert len(plan.stays()) == len(plan.path.moves) + (0 not in plan.path.moves)
    exact = pot_years(Book(with_views(book.c, "tollgate", size="exact"), DAY), "tollgate")
    assert exact.years == plan.years
    for view in ("early", "thicken"):
        assert pot_years(Book(with_views(book.c, "wicket", pot_when=view), DAY), "wicket").years
    with pytest.raises(FieldError):
        pot_years(book, "nobody")


def test_findings_of_the_weeks_name_figure_and_remedy(book: Book) -> None:
    gone = Habits(away=(Away(**{"from": date(2026, 3, 20), "to": date(2026, 4, 3)}),), weekend_hours=2)
    event = Event(
        id="r",
        tree="evening-bell",
        date=DAY - timedelta(days=2),
        kind="repotted",
        figures=(("removed_feeder_share", 0.38),),
    )
    late = Order(id="cloud-rect", pot="cloud-rect", promised=date(2026, 2, 1))
    c = replace(book.c, habits=gone, events=(*book.c.events, event), orders={"cloud-rect": late})
    busy = Book(c, DAY)
    weeks = weekends(busy, DAY, DAY + timedelta(days=50))
    found = {
        s.code.split("/")[0]: s
        for s in season_findings(busy, weeks, supplies(busy, [j for w in weeks for j in w.jobs]))
    }
    assert {"short", "away", "worked_before_frost", "order"} <= set(found)
    assert "15 days" in found["away"].text
    assert "promised for 2026-02-01" in found["order"].text
    assert all(s.text.endswith(".") for s in found.values())
    strained = next(j for w in weeks for j in w.jobs if j.task.tree == "rope-ladder")
    assert strain_of(busy, strained.task) > 0.1
    assert season_findings(Book(Collection(), DAY), (), ()) == ()


def test_a_house_tree_is_not_asked_in_and_out(book: Book) -> None:
    brief = book.brief("tollgate").changed(keeping=Keeping(shelter="indoors"))
    c = with_tree(book.c, book.c.trees["tollgate"].changed(species="jade"))
    kinds = {
        t.kind for t in Book(replace(c, briefs=dict(c.briefs) | {"tollgate": brief}), DAY).tasks if t.tree == "tollgate"
    }
    assert not kinds & {"bring_in", "bring_out", "shelter_rain"}


def test_growth_says_when_the_show_table_is_too_low(book: Book) -> None:
    life = Life(book, book.c.trees["mossback"])
    growth = life.heights.growth
    assert growth is not None
    pot = book.c.pots["broom-oval"]
    for room, status in ((growth.at(2.0), "watch"), (growth.at(40.0), "fits"), (-1.0, "watch")):
        brief = book.brief("mossback")
        limits = brief.limits.changed(show_height_mm=room + pot.height_mm + brief.stand_mm)
        other = Book(replace(book.c, briefs=dict(book.c.briefs) | {"mossback": brief.changed(limits=limits)}), DAY)
        found = next(f for f in life_findings(Life(other, book.c.trees["mossback"])) if f.code == "grows_over")
        assert found.status == status
        if room == growth.at(2.0):
            assert str((life.heights.points[-1][0] + timedelta(days=730)).year) in found.text
