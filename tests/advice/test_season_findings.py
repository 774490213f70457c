"""Each finding of the weeks ahead: what brings it up, its figure, its remedy, and that it goes when the remedy is done."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

import pytest

from kesh.advice.season.book import Book
from kesh.advice.season.season_findings import Said, season_findings, task_by_id
from kesh.advice.season.supplies import Supply
from kesh.advice.season.weekends import weekends
from kesh.demo.lanternfield import demo_collection
from kesh.model import Away, Collection, Event, Habits, Lineup, Order, Reservation, Task

DAY = date(2026, 3, 10)
WEEKS = timedelta(days=77)
ORDER = ("no", "watch", "unknown", "fits")


@pytest.fixture(scope="module")
def c() -> Collection:
    return demo_collection()


def task(**fields: object) -> Task:
    plain = {"id": "own", "tree": "mossback", "kind": "prune", "from": DAY, "to": DAY + timedelta(days=60)}
    return Task.made(**(plain | fields))


def said(c: Collection, stock: Sequence[Supply] = (), day: date = DAY) -> dict[str, Said]:
    book = Book(c, day)
    found = season_findings(book, weekends(book, day, day + WEEKS, soil=False), stock)
    assert [ORDER.index(s.status) for s in found] == sorted(ORDER.index(s.status) for s in found)
    assert all(s.text.endswith(".") for s in found)
    assert len({s.code for s in found}) == len(found)
    return {s.code: s for s in found}


def test_what_was_to_be_done_and_was_not(c: Collection) -> None:
    late = task(**{"from": DAY - timedelta(days=30), "to": DAY - timedelta(days=2)})
    found = said(replace(c, tasks=(late,)))["late/own"]
    assert (found.status, found.tree, found.task) == ("no", "mossback", "own")
    assert found.text == "Mossback: prune was to be done by 8 Mar."
    for state in ("done", "skipped"):
        assert "late/own" not in said(replace(c, tasks=(late.changed(state=state),)))
    assert "late/own" not in said(replace(c, tasks=(late.changed(to=DAY),)))


def test_a_sign_to_look_for_is_named_with_its_tree(c: Collection) -> None:
    plain = replace(c, tasks=(), events=())
    asked = task(id="shade", kind="shade", sign="New leaves are firm.", **{"from": DAY - timedelta(days=20), "to": DAY})
    before, found = said(plain).get("asked"), said(replace(plain, tasks=(asked,)))["asked"]
    count = 0 if before is None else int(before.text.split()[0])
    assert int(found.text.split()[0]) == count + 1
    assert found.remedy.endswith("Say yes, not yet or worse.")


def test_a_crowded_weekend_is_eased_by_the_remedy_it_gives(c: Collection) -> None:
    saturday = date(2026, 4, 11)
    rows = tuple(task(id=f"own-{n}", minutes=300, day=saturday, to=date(2026, 5, 20)) for n in range(2))
    crowd = replace(c, tasks=rows, habits=Habits(weekend_hours=8))
    found = said(crowd)[f"crowded/{saturday}"]
    assert "you give 8." in found.text
    assert found.move_to is not None
    assert found.move_to > saturday
    moved = tuple(t.changed(day=found.move_to) if t.id == found.task else t for t in rows)
    assert f"crowded/{saturday}" not in said(replace(crowd, tasks=moved))
    assert f"crowded/{found.move_to}" not in said(replace(crowd, tasks=moved))
    # where none can wait it says so and moves nothing
    tight = tuple(t.changed(to=saturday) for t in rows)
    stuck = said(replace(crowd, tasks=tight))[f"crowded/{saturday}"]
    assert stuck.move_to is None
    assert stuck.remedy.startswith("No job of it can wait")


@pytest.mark.parametrize(("order_days", "status"), [(3, "watch"), (60, "no")])
def test_what_is_short_says_by_when_to_order(c: Collection, order_days: int, status: str) -> None:
    # under its id it stands in place of the one that is worked out
    repot = task(id="repot-mossback-2026", kind="repot", day=date(2026, 3, 28), **{"from": date(2026, 3, 20)})
    stock = (
        Supply("pumice", "Pumice", 9.0, 4.0, "l", ("mossback",)),
        Supply("mesh-3", "Mesh", 4.0, 400.0, "cm²", ("mossback",)),
    )
    bench = replace(c, tasks=(repot,), habits=Habits(order_days=order_days))
    found = said(bench, stock)
    assert "short/mesh-3" not in found
    short = found["short/pumice"]
    assert short.status == status
    assert "5.0 l short for Mossback" in short.text
    assert ("too late" in short.remedy) is (status == "no")
    if status == "watch":
        assert short.remedy == "Order by 25 Mar."


def test_aftercare_while_nobody_is_there(c: Collection) -> None:
    event = Event(id="new", tree="wicket", date=DAY - timedelta(days=2), kind="repotted")
    away = Away.made(**{"from": DAY + timedelta(days=3), "to": DAY + timedelta(days=9)})
    gone = replace(c, events=(event,), habits=Habits(away=(away,)))
    found = said(gone)[f"away/{away.from_}"]
    assert found.text.startswith("You are away 7 days from 13 Mar in the aftercare of ")
    assert "Wicket" in found.text
    kept = Habits(away=(away,), keeper=True)
    assert f"away/{away.from_}" not in said(replace(gone, habits=kept))
    past = Habits(away=(away.changed(from_=date(2026, 2, 1), to=date(2026, 2, 9)),))
    assert not [code for code in said(replace(gone, habits=past)) if code.startswith("away/")]


def test_a_promise_that_was_not_kept(c: Collection) -> None:
    order = Order(id="chalk-oval", pot="chalk-oval", promised=date(2026, 3, 1))
    found = said(replace(c, orders={"chalk-oval": order}))["order/chalk-oval"]
    assert "was promised for 2026-03-01 and is not here." in found.text
    for status in ("here", "off"):
        assert "order/chalk-oval" not in said(replace(c, orders={"chalk-oval": order.changed(status=status)}))
    assert "order/chalk-oval" not in said(replace(c, orders={"chalk-oval": order.changed(promised=DAY)}))


def test_a_pot_chosen_for_one_and_kept_for_another(c: Collection) -> None:
    pot = c.pots["chalk-oval"].changed(reserved=Reservation(tree="wicket"))
    both = replace(
        c,
        pots=dict(c.pots) | {pot.id: pot},
        lineups=dict(c.lineups) | {"mossback": Lineup(id="mossback", chosen=pot.id)},
    )
    found = said(both)["reserved/chalk-oval"]
    assert found.status == "no"
    assert found.text.endswith("is chosen for Mossback and reserved for Wicket.")
    mine = replace(both, pots=dict(c.pots) | {pot.id: pot.changed(reserved=Reservation(tree="mossback"))})
    assert "reserved/chalk-oval" not in said(mine)


@pytest.mark.parametrize(("days", "status", "told"), [(-5, "no", "ran out 5 days ago"), (12, "fits", "12 days until")])
def test_interim_pots_run_out(c: Collection, days: int, status: str, told: str) -> None:
    plantings = tuple(p.changed(interim_until=None) for p in c.plantings)
    assert "interim" not in said(replace(c, plantings=plantings))
    held = c.planting_of("tollgate")
    assert held is not None
    timed = tuple(p.changed(interim_until=DAY + timedelta(days=days)) if p.id == held.id else p for p in plantings)
    found = said(replace(c, plantings=timed))["interim"]
    assert found.status == status
    assert told in found.text


def test_strain_says_when_it_would_fit(c: Collection) -> None:
    fresh = Event(
        id="root",
        tree="mossback",
        date=DAY - timedelta(days=3),
        kind="repotted",
        figures=(("removed_feeder_share", 0.35),),
    )
    cut = task(kind="defoliate", day=date(2026, 3, 14), to=date(2027, 3, 1))
    found = said(replace(c, events=(fresh,), tasks=(cut,)))["strain/own"]
    assert found.move_to is not None
    assert found.remedy == f"It would fit from {found.move_to.isoformat()} on."
    later_on = replace(c, events=(fresh,), tasks=(cut.changed(day=found.move_to),))
    assert "strain/own" not in said(later_on, day=DAY)


def test_jobs_of_the_week_and_a_task_by_its_id(c: Collection) -> None:
    rows = (task(id="now", day=date(2026, 3, 12), minutes=30), task(id="next", day=date(2026, 3, 18), minutes=30))
    book = Book(replace(c, tasks=rows), DAY)
    first, *_ = weekends(book, DAY, DAY + WEEKS, soil=False)
    ids = {j.task.id for j in first.jobs}
    assert "now" in ids
    assert "next" not in ids
    assert task_by_id(book, "next") == rows[1]
    assert task_by_id(book, "no such task") is None
