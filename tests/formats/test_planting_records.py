"""Tasks, stock, work at the bench and planned plantings go through a bundle and a collection file, and are written as the contract names them."""

import json
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bring, bundle_of, read_bundle
from kesh.model import Event, Planting, Stock, Stone, Task, Work
from kesh.model.work import DoneStep
from kesh.store.collection_file import CollectionFile

DEMO = demo_collection()
TASK = Task.model_validate(
    {"id": "t1", "tree": "tollgate", "kind": "shade", "from": "2026-03-10", "to": "2026-03-24", "sign": "firm"}
)
WORK = Work(
    id="tollgate",
    pot="gate-oval",
    begun=datetime(2026, 3, 10, 9),
    done=(DoneStep(step="lift", at=datetime(2026, 3, 10, 9, 5)),),
    bare_since=datetime(2026, 3, 10, 9, 5),
)
PLANNED = Planting(
    id="plan",
    tree="tollgate",
    pot="riverstone-oval",
    planned=True,
    anchors="stones",
    stones=(Stone(x_mm=10, mass_kg=2),),
    feed="under",
    dressing_mm=5,
)
EVENT = Event(
    id="e99",
    tree="tollgate",
    date=date(2026, 3, 10),
    kind="repotted",
    planned=(("soil_l", 1.2),),
    minutes=55,
    strain=0.3,
)
FULL = replace(
    DEMO, tasks=(TASK,), stock={"wire-aluminium-2": Stock(id="wire-aluminium-2", item="Wire", unit="m", have=3)}, works={"tollgate": WORK},
    plantings=(*DEMO.plantings, PLANNED), events=(*DEMO.events, EVENT),
)  # fmt: skip


def test_a_bundle_brings_all_of_it_back() -> None:
    document = json.loads(json.dumps(bundle_of(FULL)))
    assert document["tasks"][0]["from"] == "2026-03-10"
    back = read_bundle(document)
    for name in ("tasks", "stock", "works", "plantings", "events"):
        assert getattr(back, name) == getattr(FULL, name), name


def test_the_contracts_own_spelling_is_read() -> None:
    document = bundle_of(DEMO) | {
        "stock": [{"item": "mesh-3", "unit": "cm2", "have": 40, "note": "green"}],
        "tasks": [{"id": "t", "tree": "tollgate", "kind": "first_feed", "from": "2026-04-01", "to": None, "sign": "", "state": "waiting", "asked": None, "why": "", "school": "common", "event": None, "extra": 1}],
        "events": [{"id": "e", "tree": "tollgate", "date": "2026-03-10", "kind": "repotted", "planned": {"soil_l": 2.5}, "minutes": 40, "cost": 12, "strain": 0.2, "photo": "p1"}],
    }  # fmt: skip
    back = read_bundle(document)
    assert back.stock["mesh-3"].have == 40
    assert back.tasks[0].from_ == date(2026, 4, 1)
    assert back.events[0].planned == (("soil_l", 2.5),)


def test_one_bad_record_is_one_record() -> None:
    document = bundle_of(FULL)
    document["stock"].append({"item": "x", "have": -4})
    document["tasks"].append({"tree": "tollgate"})
    found = bring(document)
    assert len(found.problems) == 2
    assert found.collection.stock == FULL.stock
    assert found.collection.tasks == FULL.tasks


def test_a_collection_file_keeps_it_through_undo(tmp_path: Path) -> None:
    file = CollectionFile.create(tmp_path / "a.kesh", DEMO)
    file.edit(
        "all",
        [
            ("task", TASK.id, TASK),
            ("work", WORK.id, WORK),
            ("stock", "s", Stock(id="s", have=1)),
            ("planting", PLANNED.id, PLANNED),
        ],
    )
    file.close()
    again = CollectionFile.open(tmp_path / "a.kesh")
    assert again.collection.tasks == (*DEMO.tasks, TASK)
    assert again.collection.works["tollgate"] == WORK
    again.undo()
    assert again.collection.tasks == DEMO.tasks
    assert again.collection.works == {}
    again.close()


def test_a_planned_planting_holds_nowhere_but_in_its_own_pot() -> None:
    assert FULL.planting_of("tollgate").pot == "gate-oval"  # type: ignore[union-attr]
    assert FULL.planting_of("tollgate", "riverstone-oval") == PLANNED
    assert FULL.others_in("riverstone-oval", "nobody") == ()
    undated = replace(
        DEMO,
        plantings=(replace_date(next(p for p in DEMO.plantings if p.tree == "tollgate" and p.ended is None)), PLANNED),
    )
    assert undated.planting_of("tollgate").pot == "gate-oval"  # type: ignore[union-attr]


def replace_date(planting: Planting) -> Planting:
    """The same planting without a day."""
    return planting.changed(date=None)
