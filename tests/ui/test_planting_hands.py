"""What a hand on the drawing and a key at the bench change, without a window: one more wire, a note, a clock with a zone."""

from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.desk.bench_trial import FILL, used_litres, used_note
from kesh.desk.bench_work import bare_seconds, clock, dry_seconds, misted, step_done
from kesh.desk.planting import own_ties, pulled, with_gauge, with_wire, without_wire
from kesh.model import Planting, Work
from kesh.model.work import DoneStep
from tests.advice.test_planting_plan import plan

NOW = datetime(2026, 3, 10, 9, 0)


def begun(**fields: object) -> Work:
    return Work.made(id="maple", pot="tray", begun=NOW, **fields)


def filled(note: str) -> Work:
    return begun(done=(DoneStep(step=FILL, at=NOW, note=note),))


# --- soil that was used


@given(st.floats(0.001, 2000))
def test_what_was_used_is_read_as_it_was_written(litres: float) -> None:
    assert used_litres(filled(used_note(litres))) == pytest.approx(litres, rel=1e-5)


@pytest.mark.parametrize(
    "note", ["used plenty l", "used nan l", "used -3 l", "used", "used 3", "used 3 l of it", "3 l", ""]
)
def test_a_note_that_is_no_amount_is_left_alone(note: str) -> None:
    assert used_litres(filled(note)) is None


@pytest.mark.parametrize("litres", [0.0, -1.0, 2001.0, float("nan"), float("inf")])
def test_no_pot_takes_that_much(litres: float) -> None:
    with pytest.raises(FieldError, match="went into no pot"):
        used_note(litres)


# --- the clock, with whatever zone a file says


@pytest.mark.parametrize("zone", ["", "Z", "+02:00", "-11:30"])
def test_a_zone_in_a_file_neither_stops_the_clock_nor_moves_it(zone: str) -> None:
    raw = {
        "id": "maple",
        "pot": "tray",
        "begun": f"2026-03-10T09:00:00{zone}",
        "bare_since": f"2026-03-10T09:04:00{zone}",
    }
    work = Work.model_validate(raw)
    now = NOW + timedelta(minutes=10)
    assert bare_seconds(work, now) == 6 * 60
    assert dry_seconds(work, now) == 6 * 60
    told = clock(work, plan(), now)
    assert told.bare_min == pytest.approx(6)
    wet = misted(work, now)
    assert dry_seconds(wet, now + timedelta(minutes=2)) == 120
    done = step_done(wet, plan().steps[0], now)
    assert done.done[-1].at == now


def test_a_mist_with_a_zone_counts_from_its_own_hour() -> None:
    raw = {
        "id": "m",
        "pot": "p",
        "begun": "2026-03-10T09:00:00",
        "bare_since": "2026-03-10T09:00:00",
        "misted_at": "2026-03-10T09:05:00Z",
    }
    assert dry_seconds(Work.model_validate(raw), NOW + timedelta(minutes=9)) == 4 * 60


# --- wires


def held(**fields: object) -> Planting:
    made = plan(**fields)  # type: ignore[arg-type]
    planting = made.a.case.planting
    assert planting is not None
    return own_ties(planting, made.ties)


def test_one_more_wire_is_of_the_kind_of_the_others_and_has_its_own_number() -> None:
    made = plan()
    first = with_gauge(held(), made.ties, gauge_mm=2.5, metal="copper")
    more = with_wire(first, made.ties, made.a)
    assert len(more.ties) == len(first.ties) + 1
    assert {(t.gauge_mm, t.metal) for t in more.ties} == {(2.5, "copper")}
    assert len({t.id for t in more.ties}) == len(more.ties)


def test_the_number_of_a_wire_that_went_is_free_again() -> None:
    made = plan()
    first = held()
    gone = first.ties[0].id
    again = with_wire(without_wire(first, made.ties, gone), made.ties, made.a)
    assert gone in {t.id for t in again.ties}
    assert len({t.id for t in again.ties}) == len(first.ties)


def test_one_guy_more_goes_into_the_widest_gap() -> None:
    made = plan(anchors="guys")
    first = held(anchors="guys")
    more = with_wire(first, made.ties, made.a)
    assert len(more.ties) == len(first.ties) + 1
    wider = plan(anchors="guys", ties=more.ties).ties
    was = plan(anchors="guys", ties=first.ties).ties
    assert wider is not None
    assert was is not None
    assert wider.hold is not None
    assert was.hold is not None
    assert (wider.hold.rose_n >= was.hold.rose_n - 1e-9).all()


def test_the_last_wire_away_leaves_the_rule_to_lay_them() -> None:
    made = plan()
    planting = held()
    for tie in planting.ties:
        planting = without_wire(planting, made.ties, tie.id)
    assert planting.ties == ()
    found = plan(ties=planting.ties).ties
    assert found is not None
    assert found.by_rule


@pytest.mark.parametrize("key", ["hole:nobody:0", "over:nobody:0"])
def test_a_wire_that_is_not_there_is_not_pulled(key: str) -> None:
    made = plan()
    with pytest.raises(FieldError, match="no wire nobody"):
        pulled(held(), made.ties, made.a, key, 0.0, 0.0)


@given(st.floats(-200, 200), st.floats(-150, 150))
def test_a_pulled_end_comes_up_through_a_hole_that_is_there(x: float, y: float) -> None:
    made = plan()
    first = held()
    moved = pulled(first, made.ties, made.a, f"hole:{first.ties[0].id}:0", x, y)
    at = moved.ties[0].holes[0]
    known = {(round(h.x_mm, 1), round(h.y_mm, 1)) for h in made.a.pot.holes} | {h for t in first.ties for h in t.holes}
    assert min(abs(at[0] - a) + abs(at[1] - b) for a, b in known) < 0.2
    assert moved.ties[1:] == first.ties[1:]
