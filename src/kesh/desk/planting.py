"""Step Planting without a window: which pot, which planting, and what a hand on the drawing changes."""

from collections.abc import Sequence
from contextlib import suppress
from typing import TypeVar

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.case import lifted_mm
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.tie_plan import TiePlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.lineup import with_offset
from kesh.model import Collection, Hole, Planting, PlantingViews, Stone, Tie
from kesh.science.stand.hardware import tie_holes
from kesh.store.collection_file import Change

T = TypeVar("T")
ANCHOR_WORDS = {
    "ties": "Thick roots", "rods": "Bamboo rods", "raft": "Raft", "stones": "Stones", "guys": "Guys", "none": "None",
}  # fmt: skip


def pots_to_plant(c: Collection, tree: str) -> tuple[str, ...]:
    """Pots the tree may be planted in, the one that is meant first: chosen, then the line-up's, then the present one."""
    lineup, present = c.lineups.get(tree), c.planting_of(tree)
    chosen = lineup.chosen if lineup is not None else None
    planned = [p.pot for p in c.plantings if p.tree == tree and p.planned and p.ended is None]
    keys = [
        chosen,
        *planned,
        *(lineup.pots if lineup is not None else ()),
        present.pot if present is not None else None,
    ]
    return tuple(dict.fromkeys(k for k in keys if k is not None and k in c.pots))


def pot_words(c: Collection, tree: str, pot: str) -> str:
    """What the pot in hand is to the tree."""
    lineup, present = c.lineups.get(tree), c.planting_of(tree)
    if present is not None and present.pot == pot:
        return "its present pot"
    if lineup is not None and lineup.chosen == pot:
        return "the chosen pot"
    return "of the line-up" if lineup is not None and pot in lineup.pots else "planned"


# --- hands -----------------------------------------------------------------------------------------------------------


def shifted(p: Planting, key: str, dx_mm: float, dy_mm: float) -> Planting:
    """The planting after a hand moved something: trunk in plan or front, tilt and turn in degrees, heights. Raises FieldError."""
    if key == "trunk":
        return p.changed(offset_x_mm=round(p.offset_x_mm + dx_mm, 1), offset_y_mm=round(p.offset_y_mm + dy_mm, 1))
    if key == "front":
        return p.changed(offset_x_mm=round(p.offset_x_mm + dx_mm, 1), raise_mm=round(p.raise_mm + dy_mm, 1))
    if key == "tilt":
        return p.changed(tilt_deg=round(min(max(p.tilt_deg + dx_mm, -60.0), 60.0), 1))
    if key == "turn":
        return p.changed(turn_deg=round((p.turn_deg + dx_mm + 180) % 360 - 180, 1))
    if key == "mound":
        high = round(max(p.mound_mm + dy_mm, 0.0), 1)
        if p.raise_mm == lifted_mm(p, p.mound_mm):
            return p.changed(mound_mm=high, raise_mm=lifted_mm(p, high))
        return p.changed(mound_mm=high)
    if key == "headspace":
        was = 6.0 if p.headspace_mm is None else p.headspace_mm
        return p.changed(headspace_mm=round(max(was - dy_mm, 0.0), 1))
    if key == "raise":
        return p.changed(raise_mm=round(p.raise_mm + dy_mm, 1))
    raise FieldError(key, f"'{key}' is nothing that is moved")


def holes_of(a: Assessment) -> tuple[Hole, ...]:
    """Every hole a wire may come up through: tie holes, drain holes, and planned ones where the pot has none."""
    found = list(a.pot.holes)
    with suppress(FieldError):
        found += [
            h for h in tie_holes(a.figures.pots) if all(np.hypot(h.x_mm - o.x_mm, h.y_mm - o.y_mm) > 3 for o in found)
        ]
    return tuple(found)


def own_ties(p: Planting, plan: TiePlan | None) -> Planting:
    """The planting with the wires of the plan as its own, so that one of them can be changed. Raises FieldError."""
    if p.ties or plan is None:
        return p
    return p.changed(ties=tuple(w.record(w.id or str(n + 1)) for n, w in enumerate(plan.wires)))


def pulled(p: Planting, plan: TiePlan | None, a: Assessment, key: str, x_mm: float, y_mm: float) -> Planting:
    """The planting after an end of a wire was pulled to a place in the plan; a hole end snaps to the nearest hole.

    `key` is hole:wire:n, over:wire:n or stone:n. Raises FieldError.
    """
    kind, *rest = key.split(":")
    if kind == "stone":
        mine = p if p.stones else p.changed(stones=plan.stones if plan is not None else ())
        n = int(rest[0])
        moved = mine.stones[n].changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1))
        return mine.changed(stones=(*mine.stones[:n], moved, *mine.stones[n + 1 :]))
    mine = own_ties(p, plan)
    wire, n = rest[0], int(rest[1])
    at = next((i for i, t in enumerate(mine.ties) if t.id == wire), None)
    if at is None:
        raise FieldError("tie", f"there is no wire {wire}")
    tie = mine.ties[at]
    if kind == "hole":
        if p.anchors != "guys":
            near = min(holes_of(a), key=lambda h: float(np.hypot(h.x_mm - x_mm, h.y_mm - y_mm)), default=None)
            if near is None:
                raise FieldError("hole", "the pot has no hole to lead a wire through")
            x_mm, y_mm = near.x_mm, near.y_mm
        tie = tie.changed(holes=_at(tie.holes, n, (round(x_mm, 1), round(y_mm, 1))))
    else:
        tie = tie.changed(over=_at(tie.over, n, (round(x_mm, 1), round(y_mm, 1), tie.over[n][2])))
    return mine.changed(ties=(*mine.ties[:at], tie, *mine.ties[at + 1 :]))


def _at(rows: Sequence[T], n: int, one: T) -> tuple[T, ...]:
    return (*rows[:n], one, *rows[n + 1 :])


def with_anchors(p: Planting, anchors: str) -> Planting:
    """Another way to hold it; wires laid by hand for the way before go. Raises FieldError."""
    return p.changed(anchors=anchors, ties=(), stones=())


def with_gauge(p: Planting, plan: TiePlan | None, gauge_mm: float | None = None, metal: str | None = None) -> Planting:
    """All wires in another gauge or metal. Raises FieldError."""
    mine = own_ties(p, plan)
    ties = tuple(
        t.changed(gauge_mm=t.gauge_mm if gauge_mm is None else gauge_mm, metal=t.metal if metal is None else metal)
        for t in mine.ties
    )
    return mine.changed(ties=ties)


def with_wire(p: Planting, plan: TiePlan | None, a: Assessment) -> Planting:
    """One more wire, between the two holes farthest from those in use, over the roots between them. Raises FieldError."""
    mine = own_ties(p, plan)
    if p.anchors == "guys" and plan is not None and mine.ties:
        return _one_guy_more(mine)
    holes = holes_of(a)
    if len(holes) < 1 or plan is None:
        raise FieldError("tie", "the pot has no hole to lead a wire through")
    used = [h for t in mine.ties for h in t.holes]

    def free(h: Hole) -> tuple[int, float]:
        return sum(abs(h.x_mm - x) + abs(h.y_mm - y) < 1 for x, y in used), -float(np.hypot(h.x_mm, h.y_mm))

    one, other = sorted(holes, key=free)[:2] if len(holes) > 1 else (holes[0], holes[0])
    top = plan.wires[0].over[0][2] if plan.wires else 40.0
    over = tuple((round(0.8 * h.x_mm, 1), round(0.8 * h.y_mm, 1), round(max(top, 1.0), 1)) for h in (one, other))
    like = {"gauge_mm": mine.ties[0].gauge_mm, "metal": mine.ties[0].metal} if mine.ties else {}
    holes_of_it = ((one.x_mm, one.y_mm), (other.x_mm, other.y_mm))
    made = Tie.made(id=_free_number(mine), holes=holes_of_it, over=over, **like)
    return mine.changed(ties=(*mine.ties, made))


def _free_number(p: Planting) -> str:
    taken = {t.id for t in p.ties}
    return next(str(n) for n in range(1, len(taken) + 2) if str(n) not in taken)


def _one_guy_more(p: Planting) -> Planting:
    """A guy in the middle of the widest gap between two, from the same height, as far out."""
    at = np.array([t.over[0][:2] for t in p.ties]).mean(axis=0)
    away = np.array([t.holes[0] for t in p.ties]) - at
    angles = np.sort(np.arctan2(away[:, 1], away[:, 0]))
    gaps = np.diff([*angles, angles[0] + 2 * np.pi])
    n = int(np.argmax(gaps))
    middle, far = angles[n] + gaps[n] / 2, float(np.hypot(*away.T).mean())
    spot = at + far * np.array([np.cos(middle), np.sin(middle)])
    made = p.ties[0].changed(
        id=_free_number(p), holes=((round(float(spot[0]), 1), round(float(spot[1]), 1)),), behind=None, pad=False
    )
    return p.changed(ties=(*p.ties, made))


def with_height(p: Planting, plan: TiePlan | None, wire: str, z_mm: float) -> Planting:
    """One wire takes hold at another height over the floor: a guy higher up the trunk, or round a branch. Raises FieldError."""
    if not z_mm > 0:
        raise FieldError("height", f"{z_mm:g} mm is on the floor; a wire takes hold above it")
    mine = own_ties(p, plan)
    ties = tuple(
        t.changed(over=tuple((x, y, round(z_mm, 1)) for x, y, _ in t.over)) if t.id == wire else t for t in mine.ties
    )
    return mine.changed(ties=ties)


def without_wire(p: Planting, plan: TiePlan | None, wire: str) -> Planting:
    """The planting without one of its wires; the last one leaves the rule to lay them. Raises FieldError."""
    mine = own_ties(p, plan)
    return mine.changed(ties=tuple(t for t in mine.ties if t.id != wire))


def with_tie(p: Planting, plan: TiePlan | None, wire: str, **fields: object) -> Planting:
    """One wire with something else about it: behind which root, on a pad, when it comes off. Raises FieldError."""
    mine = own_ties(p, plan)
    return mine.changed(ties=tuple(t.changed(**fields) if t.id == wire else t for t in mine.ties))


def with_stones(p: Planting, plan: TiePlan | None, mass_kg: float) -> Planting:
    """All stones of another mass. Raises FieldError."""
    stones: tuple[Stone, ...] = p.stones or (plan.stones if plan is not None else ())
    return p.changed(stones=tuple(s.changed(mass_kg=mass_kg) for s in stones))


def standing_best(p: Planting, plan: PlantingPlan) -> Planting:
    """The trunk at the best place of the school's range. Raises FieldError where none keeps the side room."""
    lever = plan.lever
    if lever is None or lever.best_mm is None:
        raise FieldError("place", "no place of the range keeps the side room; move the trunk by hand")
    y = p.offset_y_mm
    if not lever.custom.y_low - 0.5 <= y <= lever.custom.y_high + 0.5:
        y = round((lever.custom.y_low + lever.custom.y_high) / 2, 1)
    return p.changed(offset_x_mm=round(lever.best_mm, 1), offset_y_mm=y)


def planned_for(c: Collection, tree: str, pot: str) -> Planting | None:
    """The planting that is planned for a tree in a pot it does not stand in yet."""
    found = c.planting_of(tree, pot)
    return found if found is not None and found.planned else None


def in_step(c: Collection, changes: Sequence[Change]) -> list[Change]:
    """The changes with what must go along: a trunk moved in the line-up moves in the plan for that pot, and the other way round."""
    found = list(changes)
    touched = {(kind, key) for kind, key, _ in changes}
    for kind, _, record in changes:
        if kind == "lineup" and record is not None:
            for trial in record.trials:
                plan = planned_for(c, record.id, trial.pot)
                if plan is None or ("planting", plan.id) in touched:
                    continue
                if (plan.offset_x_mm, plan.offset_y_mm) != (trial.offset_x_mm, trial.offset_y_mm):
                    moved = plan.changed(offset_x_mm=trial.offset_x_mm, offset_y_mm=trial.offset_y_mm)
                    found.append(("planting", plan.id, moved))
        elif kind == "planting" and record is not None and record.planned:
            lineup = c.lineups.get(record.tree)
            if lineup is None or record.pot not in lineup.pots or ("lineup", record.tree) in touched:
                continue
            moved_lineup = with_offset(lineup, record.pot, record.offset_x_mm, record.offset_y_mm)
            if moved_lineup != lineup:
                found.append(("lineup", record.tree, moved_lineup))
    return found


def rule_again(p: Planting) -> Planting:
    """The wires as the rule lays them."""
    return p.changed(ties=(), stones=())


# --- words -----------------------------------------------------------------------------------------------------------


def place_words(p: Planting, u: Units) -> str:
    """Set it 38 left and 12 back."""
    x, y = p.offset_x_mm, p.offset_y_mm
    parts = [
        f"{u.figure(abs(v))} {word}"
        for v, word in ((x, "right" if x > 0 else "left"), (y, "back" if y > 0 else "front"))
        if abs(v) >= 0.5
    ]
    return " and ".join(parts) or "in the middle"


def title_words(plan: PlantingPlan, p: Planting) -> str:
    """The result in a line."""
    place = place_words(p, plan.u)
    held = plan.ties
    if held is None or held.hold is None:
        return f"Set it {place}; how firmly it is held is not known yet"
    force = f"{held.hold.weakest_n:.0f} N at the apex"
    if held.anchors == "none":
        return f"Set it {place}; its weight alone holds {force}"
    if held.anchors == "stones":
        return f"Set it {place}; {len(held.stones)} stones hold {force}"
    word = "guy" if held.anchors == "guys" else "wire"
    n = len(held.wires)
    return f"Set it {place}; {n} {word}{'' if n == 1 else 's'} hold {force}"


def with_view(views: PlantingViews, field: str, key: str) -> PlantingViews:
    """Another side of a topic. Raises FieldError."""
    return views.changed(**{field: key})
