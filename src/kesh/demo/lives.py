"""What happened on the Lanternfield bench: earlier pots, measures and works, what is asked of the seasons to come. All invented."""

from dataclasses import replace
from datetime import date
from typing import Any

from kesh.model import (
    Away,
    Collection,
    Event,
    Habits,
    Measure,
    Order,
    Planting,
    Rejection,
    Reservation,
    RootMass,
    Sign,
    Task,
)
from kesh.model.events import EventKind
from kesh.model.signs import SignKind

# tree, pot, from, to: where they stood before
STOOD: tuple[tuple[str, str, date, date], ...] = (
    ("tollgate", "short-square", date(2012, 4, 12), date(2014, 3, 20)), ("tollgate", "terracotta-tub", date(2014, 3, 20), date(2017, 3, 16)),
    ("tollgate", "mesh-crate", date(2017, 3, 16), date(2021, 3, 12)), ("tollgate", "gate-tray", date(2021, 3, 12), date(2024, 3, 14)),
    ("old-ferryman", "terracotta-tub", date(2009, 4, 12), date(2014, 4, 2)), ("old-ferryman", "mesh-crate", date(2014, 4, 2), date(2018, 3, 30)),
    ("old-ferryman", "training-box", date(2018, 3, 30), date(2022, 3, 28)),
    ("mossback", "small-oval", date(2006, 3, 20), date(2012, 3, 24)), ("mossback", "gate-tray", date(2012, 3, 24), date(2018, 3, 22)),
    ("mossback", "thrush-low", date(2018, 3, 22), date(2023, 3, 18)),
)  # fmt: skip
# tree: (day, height, trunk, share of the present spread)
GREW: dict[str, tuple[tuple[date, float, float, float], ...]] = {
    "tollgate": (
        (date(2012, 5, 2), 165, 24, 0.30), (date(2014, 4, 6), 335, 31, 0.52), (date(2014, 9, 20), 225, 32, 0.42), (date(2017, 9, 17), 318, 44, 0.62),
        (date(2019, 9, 15), 352, 50, 0.74), (date(2021, 9, 18), 392, 55, 0.84),
    ),
    "old-ferryman": ((date(2009, 5, 1), 310, 36, 0.42), (date(2014, 9, 20), 405, 50, 0.62), (date(2018, 9, 16), 470, 62, 0.80)),
    "mossback": ((date(2006, 9, 10), 190, 19, 0.36), (date(2012, 9, 15), 300, 33, 0.66), (date(2018, 9, 15), 382, 46, 0.86)),
}  # fmt: skip
# tree, day, kind, words, figures, minutes
DID: tuple[tuple[str, date, EventKind, str, dict[str, float], float | None], ...] = (
    ("tollgate", date(2014, 3, 20), "repotted", "Out of the square; tap root off.", {"removed_feeder_share": 0.32}, 95),
    ("tollgate", date(2014, 6, 8), "pruned", "Cut back to the first fork, 335 to 225.", {"foliage_share": 0.5}, 30),
    ("tollgate", date(2015, 6, 14), "wired", "Left arm brought down.", {}, 110),
    ("tollgate", date(2017, 3, 16), "repotted", "Roots spread over a board.", {"removed_feeder_share": 0.38, "settling": 0.11}, 150),
    ("tollgate", date(2019, 3, 17), "repotted", "Same crate, fresh mix.", {"removed_feeder_share": 0.30}, 105),
    ("tollgate", date(2019, 6, 9), "wired", "", {}, 130),
    ("tollgate", date(2021, 3, 12), "repotted", "Into the Gate tray.", {"removed_feeder_share": 0.44, "settling": 0.09}, 160),
    ("tollgate", date(2022, 6, 12), "defoliated", "Large leaves only.", {}, 55),
    ("tollgate", date(2023, 6, 4), "wired", "", {"twigs": 1}, 80),
    ("tollgate", date(2025, 6, 15), "pruned", "Tips.", {"foliage_share": 0.16}, 35),
    ("tollgate", date(2025, 11, 20), "seen", "Bare: the left arm is heavier than the right.", {}, None),
    ("old-ferryman", date(2014, 4, 2), "repotted", "Half of the field soil out.", {"removed_feeder_share": 0.24}, 140),
    ("old-ferryman", date(2019, 10, 20), "wired", "All branches.", {}, 420),
    ("old-ferryman", date(2024, 7, 6), "pruned", "Candles evened.", {"foliage_share": 0.12}, 90),
    ("old-ferryman", date(2025, 10, 12), "pruned", "Old needles off.", {"foliage_share": 0.2}, 120),
    ("mossback", date(2012, 3, 24), "repotted", "", {"removed_feeder_share": 0.35}, 120),
    ("mossback", date(2018, 3, 22), "repotted", "Into Thrush low.", {"removed_feeder_share": 0.30, "settling": 0.12}, 135),
    ("mossback", date(2023, 3, 18), "repotted", "Combed all round.", {"removed_feeder_share": 0.28, "settling": 0.08}, 140),
    ("mossback", date(2025, 6, 1), "pruned", "Second leaves.", {"foliage_share": 0.25}, 60),
    ("grey-heron", date(2024, 3, 20), "repotted", "", {"removed_feeder_share": 0.25}, 80),
    ("seven-neighbours", date(2023, 3, 12), "repotted", "As one slab of roots.", {"removed_feeder_share": 0.30}, 210),
    ("paper-lantern", date(2024, 3, 30), "repotted", "", {"removed_feeder_share": 0.20}, 60),
    ("evening-bell", date(2025, 6, 16), "flowered", "The last flower fell.", {}, None),
    ("evening-bell", date(2025, 7, 6), "propagated", "Cuttings under glass, in kanuma.", {"of": 24, "rooted_low": 15, "rooted_high": 20}, 40),
    ("honeyjar", date(2025, 3, 30), "experiment", "Moss against none over cut roots: six pots each, five of six with moss.", {"of": 6, "alive": 5}, None),
    ("rope-ladder", date(2025, 11, 8), "ailing", "Scale insects on the tail; wiped off.", {}, 25),
)  # fmt: skip
# what was planned of a repotting, beside what was done
PLANNED: dict[tuple[str, int], tuple[dict[str, float], dict[str, float]]] = {
    ("tollgate", 2024): (
        {"removed_feeder_share": 0.40, "soil_l": 2.1, "raise_mm": 6, "wire_m": 2.4, "minutes": 135},
        {"removed_feeder_share": 0.46, "soil_l": 2.0, "raise_mm": 4, "wire_m": 2.2, "settling": 0.09},
    ),
    ("old-ferryman", 2022): (
        {"removed_feeder_share": 0.25, "soil_l": 5.4, "minutes": 180}, {"removed_feeder_share": 0.22, "soil_l": 5.6, "settling": 0.10},
    ),
}  # fmt: skip
MINUTES = {("tollgate", 2024): 170.0, ("old-ferryman", 2022): 205.0}
# root masses as they were left at the last repotting: length, width, depth
LEFT: dict[str, tuple[date, float, float, float]] = {
    "old-ferryman": (date(2022, 3, 28), 250, 180, 58), "tollgate": (date(2024, 3, 14), 190, 128, 34), "grey-heron": (date(2024, 3, 20), 120, 120, 36),
    "mossback": (date(2023, 3, 18), 190, 140, 34), "seven-neighbours": (date(2023, 3, 12), 380, 215, 30), "paper-lantern": (date(2024, 3, 30), 140, 140, 70),
    "cartographer": (date(2021, 4, 24), 240, 170, 60), "evening-bell": (date(2023, 6, 24), 150, 105, 34),
}  # fmt: skip
SAW: dict[str, tuple[tuple[date, SignKind, str], ...]] = {
    "wicket": ((date(2026, 2, 22), "drains_slowly", "90"),),
    "honeyjar": ((date(2025, 10, 4), "lifted", "6"),),
    "paper-lantern": ((date(2025, 9, 20), "loose_at_wall", "yes"),),
    "tollgate": ((date(2026, 3, 4), "buds", "swelling"),),
}
# tree, kind, from, to, words, sign, minutes
TO_DO: tuple[tuple[str, str, date, date, str, str, float | None], ...] = (
    ("old-ferryman", "look", date(2026, 6, 8), date(2026, 6, 20), "Are the candles even?", "All candles of one length.", None),
    ("old-ferryman", "prune", date(2026, 10, 4), date(2026, 10, 25), "Old needles off.", "Old needles turn yellow.", 120),
    ("tollgate", "defoliate", date(2026, 6, 1), date(2026, 6, 21), "Large leaves only.", "Leaves are hard.", 55),
    ("tollgate", "photograph", date(2026, 11, 14), date(2026, 12, 6), "Bare, from the front.", "All leaves are down.", None),
    ("grey-heron", "pinch", date(2026, 5, 2), date(2026, 5, 24), "Soft tips.", "Tips are 20 mm long.", 20),
    ("mossback", "look", date(2026, 9, 20), date(2026, 10, 10), "Roots at the holes?", "", None),
    ("long-rain", "unwire", date(2026, 8, 15), date(2026, 9, 6), "Before it bites.", "Wire begins to mark the bark.", 30),
    ("honeyjar", "prune", date(2026, 9, 1), date(2026, 9, 20), "Thin the fruit.", "Fruit as large as a walnut.", 15),
)  # fmt: skip


def with_lives(c: Collection) -> Collection:
    """The collection with all of it."""
    earlier = tuple(
        Planting(id=f"{tree}-{first.year}-was", tree=tree, pot=pot, mix="house-leaf", date=first, ended=last) for tree, pot, first, last in STOOD
    )  # fmt: skip
    plantings = tuple(
        p.changed(interim_until=date(2026, 9, 30)) if p.tree == "tidewater" else p for p in c.plantings
    )  # fmt: skip
    pots = dict(c.pots)
    pots["thrush-low"] = pots["thrush-low"].changed(reserved=Reservation(tree="mossback", season="spring 2026"))
    return replace(
        c, trees={key: _grown(c, key) for key in c.trees}, pots=pots, plantings=(*earlier, *plantings), events=_events(c),
        tasks=tuple(_task(n, *row) for n, row in enumerate(TO_DO)),
        habits=Habits(away=(Away(**{"from": date(2026, 7, 14), "to": date(2026, 7, 28)}),), weekend_hours=8, order_days=4),
        rejections=(
            *c.rejections,
            Rejection(id="honeyjar/gate-tray", tree="honeyjar", pot="gate-tray", reason="Too long: the clump looks lost.", date=date(2025, 11, 2)),
        ),
        orders={"cloud-rect": Order(id="cloud-rect", pot="cloud-rect", asked=date(2025, 11, 22), promised=date(2026, 4, 4), status="promised", price=180)},
    )  # fmt: skip


def _task(n: int, tree: str, kind: str, first: date, last: date, words: str, sign: str, minutes: float | None) -> Task:
    fields: dict[str, Any] = {"from": first}
    return Task(id=f"own-{n}", tree=tree, kind=kind, to=last, text=words, sign=sign, minutes=minutes, **fields)


def _grown(c: Collection, key: str) -> Any:
    tree = c.trees[key]
    latest = tree.measure
    measures = tuple(
        Measure(
            taken=day, height_mm=high, trunk_diameter_mm=thick, canopy_left_mm=round((latest.canopy_left_mm or 0) * share, 1),
            canopy_right_mm=round((latest.canopy_right_mm or 0) * share, 1),
        )
        for day, high, thick, share in GREW.get(key, ())
    )  # fmt: skip
    masses: tuple[RootMass, ...] = ()
    if key in LEFT and tree.roots is not None:
        day, long, wide, deep = LEFT[key]
        masses = (tree.roots.changed(seen=day, length_mm=long, width_mm=wide, depth_mm=deep, pockets=(), untouched=()),)
    signs = tuple(Sign(date=day, sign=sign, value=value) for day, sign, value in SAW.get(key, ()))
    return tree.changed(
        measures=(*measures, *tree.measures), root_masses=(*masses, *tree.root_masses), signs=(*tree.signs, *signs)
    )


def _events(c: Collection) -> tuple[Event, ...]:
    found = []
    for e in c.events:
        key = (e.tree, e.date.year)
        if e.kind == "repotted" and key in PLANNED:
            planned, done = PLANNED[key]
            found.append(
                e.changed(planned=tuple(planned.items()), figures=tuple(done.items()), minutes=MINUTES.get(key))
            )
        else:
            found.append(e)
    have = {(e.tree, e.date, e.kind) for e in found}
    for n, (tree, day, kind, words, figures, minutes) in enumerate(DID):
        if (tree, day, kind) not in have:
            pot = next((p for t, p, first, _ in STOOD if t == tree and first == day), None)
            found.append(
                Event(id=f"life-{n}", tree=tree, date=day, kind=kind, text=words, figures=tuple(figures.items()), minutes=minutes, pot=pot)
            )  # fmt: skip
    return tuple(sorted(found, key=lambda e: (e.date, e.id)))
