"""Records in and out of a collection, many at once and one by one."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from kesh.demo.lanternfield import demo_collection
from kesh.model import Event, Rejection
from kesh.store.records import all_records, body_of, key_of, read_rows, with_change, with_changes
from tests.builders import pot, tree

DEMO = demo_collection()
keys = st.sampled_from(["a", "b", "c", "old-ferryman", "ferry-tray"])


def made(kind: str, key: str, number: int) -> Any:
    """A small record of a kind."""
    if kind == "pot":
        return pot(id=key, length_mm=300 + number)
    if kind == "tree":
        return tree(id=key, name=f"Tree {number}")
    if kind == "event":
        return Event(id=key, tree="a", date="2026-03-10", kind="note", text=str(number))
    if kind == "rejection":
        return Rejection(id=key, tree="a", pot="b", reason=f"Reason {number}")
    return {"key": key, "name": f"Row {number}"}


kinds = st.sampled_from(["pot", "tree", "event", "rejection", "species_row"])
changes = st.lists(
    st.tuples(kinds, keys, st.one_of(st.none(), st.integers(0, 50))).map(
        lambda c: (c[0], c[1], None if c[2] is None else made(c[0], c[1], c[2]))
    ),
    max_size=12,
)


@given(changes)
def test_many_changes_at_once_are_the_same_as_one_by_one(steps: list[tuple[str, str, Any]]) -> None:
    single = DEMO
    for kind, key, record in steps:
        single = with_change(single, kind, key, record)
    together = with_changes(DEMO, steps)

    def rows(c: Any) -> dict[tuple[str, str], str]:
        return {(kind, key): body_of(record) for kind, key, record in all_records(c)}

    assert rows(together) == rows(single)
    for kind, key in {(kind, key) for kind, key, _ in steps}:
        last = [record for k, i, record in steps if (k, i) == (kind, key)][-1]
        assert rows(together).get((kind, key)) == (None if last is None else body_of(last))


@given(changes)
def test_a_collection_survives_its_rows(steps: list[tuple[str, str, Any]]) -> None:
    held = with_changes(DEMO, steps)
    read, problems = read_rows([(k, i, body_of(r)) for k, i, r in all_records(held)], held.name)
    assert problems == []
    assert read == held


def test_changes_leave_the_collection_they_started_from_alone() -> None:
    before = {key: body_of(p) for key, p in DEMO.pots.items()}
    after = with_changes(DEMO, [("pot", key, None) for key in DEMO.pots])
    assert not after.pots
    assert {key: body_of(p) for key, p in DEMO.pots.items()} == before
    assert after.trees is DEMO.trees


def test_rows_that_cannot_be_read_are_named_and_the_rest_stays() -> None:
    good = pot(id="good")
    read, problems = read_rows(
        [
            ("pot", "good", body_of(good)),
            ("pot", "torn", "{"),
            ("pot", "flat", '{"id": "flat", "name": "Flat", "length_mm": -4}'),
            ("ghost", "boo", "{}"),
            ("species_row", "odd", "[1,"),
        ],
        "Bench",
    )
    assert read.pots == {"good": good}
    assert [p.split(":")[0] for p in problems] == ["pot torn", "pot flat", "ghost boo", "species_row odd"]


def test_every_record_of_the_demo_has_its_own_key() -> None:
    found = [(kind, key) for kind, key, _ in all_records(DEMO)]
    assert len(found) == len(set(found))
    assert all(key == key_of(kind, record) for kind, key, record in all_records(DEMO))
