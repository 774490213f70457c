"""What is written when a tree is potted: planting, pots, root mass and map, the log with planned and done, aftercare, stock."""

from datetime import date, datetime

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.roots.repotting import cut_words, roots_after
from kesh.advice.roots.work import steps_now
from kesh.advice.season.aftercare import care_tasks
from kesh.desk.bench_work import bare_seconds, worked_minutes
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Event, Planting, RootMass, Tree, Work
from kesh.science.season.season import year_at
from kesh.store.collection_file import Change

SHARE_DIGITS = 3


def planned_figures(plan: PlantingPlan, *, cut: bool = True) -> tuple[tuple[str, float], ...]:
    """What the plan says, by name: kept when the work begins, so that done can be told from planned."""
    a, f = plan.a, plan.a.figures
    found: dict[str, float] = {
        "offset_x_mm": a.seat.x_mm, "offset_y_mm": a.seat.y_mm, "raise_mm": a.seat.raise_mm, "mound_mm": a.case.mound_mm,
        "headspace_mm": a.case.headspace_mm, "soil_l": float(f.fresh_soil_l[0]),
    }  # fmt: skip
    if plan.batch is not None:
        found["measured_out_l"] = plan.batch.total_l
    if cut and f.roots is not None:
        year = plan.this_year
        found["removed_feeder_share"] = plan.feeders_share
        found["off_bottom_mm"] = 0.0 if year is None else year.bottom_mm
        found["root_depth_mm"] = (a.case.roots.depth_mm if a.case.roots else 0.0) - found["off_bottom_mm"]
    if plan.ties is not None and plan.ties.hold is not None:
        found["hold_min_n"] = float(plan.ties.hold.rose_n.min())
        found["wires"] = float(len(plan.ties.wires))
    minutes = sum(s.minutes or 0.0 for s in plan.steps)
    if minutes:
        found["minutes"] = minutes
    return tuple((k, round(v, SHARE_DIGITS)) for k, v in found.items())


def potted(
    c: Collection, plan: PlantingPlan, planting: Planting, today: date, *, work: Work | None = None, now: datetime | None = None,
    cut: bool = True, used_l: float | None = None,
) -> list[Change]:  # fmt: skip
    """All changes of one step. `work` is what was done at the bench, none when it is only written down as planned. Raises FieldError."""
    a, tree = plan.a, plan.a.case.tree
    old = c.planting_of(tree.id)
    keys = {p.id for p in c.plantings}
    key = planting.id if planting.planned and planting.id not in keys else fresh_id(keys, tree.id)
    stands = planting.changed(
        id=key,
        planned=False,
        date=today,
        ended=None,
        mix=a.case.mix.id if a.case.mix else planting.mix,
        plan=(),
        plan_made=None,
    )
    # what was promised or kept for somebody is neither any more once a tree stands in it
    changes: list[Change] = [("planting", key, stands), ("pot", a.pot.id, a.pot.changed(state="in_use", reserved=None))]
    changes += [
        ("order", o.id, o.changed(status="here"))
        for o in c.orders.values()
        if o.pot == a.pot.id and o.status not in ("here", "off")
    ]
    if planting.planned and planting.id in keys:
        changes.insert(0, ("planting", planting.id, None))
    if old is not None:
        changes.append(("planting", old.id, old.changed(ended=today)))
        before = c.pots.get(old.pot)
        if before is not None and before.id != a.pot.id and not c.others_in(before.id, tree.id):
            changes.append(("pot", before.id, before.changed(state="shelf")))
    left = roots_after(a, today) if cut else None
    after = tree_after(tree, plan, left, cut=cut)
    if after is not tree:
        changes.append(("tree", tree.id, after))
    event = _event(plan, key, today, work, now, cut=cut, used_l=used_l, left=left)
    changes.append(("event", event.id, event))
    lineup = c.lineups.get(tree.id)
    if lineup is not None and lineup.chosen == a.pot.id:
        changes.append(("lineup", tree.id, lineup.changed(chosen=None)))
    year = year_at(a.case.site, *a.case.own.housed)
    # the table's steps follow from the entry; what only this kind of planting asks for is written with it
    rows = plan.special.care if plan.special is not None else ()
    changes += [
        ("task", t.id, t)
        for t in care_tasks(tree.id, event.id, today, rows, year.mean_on if year is not None else None)
    ]
    changes += _used_up(c, plan)
    if work is not None:
        changes.append(("work", work.id, None))
    return changes


def tree_after(tree: Tree, plan: PlantingPlan, left: RootMass | None, *, cut: bool) -> Tree:
    """The tree with the root mass that is left, and a map without the roots that went."""
    fields: dict[str, object] = {}
    if left is not None:
        fields["root_masses"] = (*tree.root_masses, left)
    steps = {s.root: s for s in steps_now(plan.a.figures)} if cut else {}
    if steps:
        found = []
        for root in tree.root_map:
            step = steps.get(root.id)
            if step is None:
                found.append(root)
            elif step.action == "shorten" and step.at_mm is not None:
                found.append(root.changed(reach_mm=max(step.at_mm, 1.0), side_root_at_mm=None, course=()))
            elif step.action == "move":
                found.append(root.changed(azimuth_deg=root.moved_to_deg or root.azimuth_deg, course=()))
        fields["root_map"] = tuple(found)
    return tree.changed(**fields) if fields else tree


def _event(
    plan: PlantingPlan, key: str, today: date, work: Work | None, now: datetime | None, *, cut: bool, used_l: float | None, left: RootMass | None
) -> Event:  # fmt: skip
    a = plan.a
    done = dict(planned_figures(plan, cut=cut))
    done.pop("minutes", None)
    done["wires"] = float(len(plan.ties.wires)) if plan.ties is not None else 0.0
    done["bare_rooted"] = float(cut and a.case.brief.root_views.old_soil == "wash")
    if left is not None:
        done["root_depth_mm"] = left.depth_mm
    minutes = None
    notes: list[str] = []
    if work is not None and now is not None:
        minutes = worked_minutes(work, now)
        done["bare_minutes"] = round(bare_seconds(work, now) / 60, 1)
        if work.trials:
            done["trial_fits"] = float(len(work.trials))
        notes = [*work.notes, *(f"{d.step}: {d.note}" for d in work.done if d.note)]
        open_tests = [s for s in plan.steps if s.checks]
        missed = [k for s in open_tests for k in s.checks if k not in work.tests]
        if missed:
            notes.append(f"Not tested: {', '.join(missed)}.")
    if used_l is not None and plan.batch is not None and plan.batch.net_l > 0:
        done["used_l"] = round(used_l, 3)
        done["settling"] = round(min(max(used_l / plan.batch.net_l - 1, 0.0), 1.0), 4)
    words = cut_words(a) if cut else "Slipped in, nothing was cut."
    text = " ".join([f"Into {a.pot.name}.", words, *notes])[:4000]
    f = plan.this_year
    return Event(
        id=f"repotted-{key}", tree=a.case.tree.id, date=today, kind="repotted", pot=a.pot.id, text=text, figures=tuple(done.items()),
        planned=work.planned if work is not None and work.planned else planned_figures(plan, cut=cut), minutes=minutes,
        strain=None if not cut or f is None else min(plan.feeders_share, 1.0),
    )  # fmt: skip


def _used_up(c: Collection, plan: PlantingPlan) -> list[Change]:
    """What was in the shed, less what went into this pot; the spare wire stays."""
    found: list[Change] = []
    spare = plan.cuts.spare_mm / 1000 if plan.cuts is not None else 0.0
    for ready in plan.ready:
        held = c.stock.get(ready.key)
        if held is None or ready.need is None:
            continue
        keeps = (
            spare
            if ready.key.startswith("wire-") and "spare" in ready.words and plan.cuts is not None and plan.cuts.ties
            else 0.0
        )
        found.append(
            ("stock", held.id, held.changed(have=round(max(held.have - max(ready.need - keeps, 0.0), 0.0), 3)))
        )
    return found
