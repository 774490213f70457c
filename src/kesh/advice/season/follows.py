"""What follows from what stands in the records: ties to take off, pots kept for a while, orders, root stages, tubes, new trees."""

from collections.abc import Iterator, Mapping
from datetime import date

from kesh.advice.planting.branches import comes_off
from kesh.advice.season.due import after_years
from kesh.model import Collection, Planting, Task
from kesh.science.roots.filling import HOLDS, Filling
from kesh.science.season.days import later

INTERIM_DAYS, ORDER_DAYS, TIES_DAYS, NEW_DAYS, NEW_KNOWN_DAYS = 30, 14, 30, 14, 120
STAGE_DAYS, TUBE_DAYS, TUBE_YEARS = 30, 30, 12


def made(
    key: str, tree: str, kind: str, first: date, last: date, text: str, why: str, sign: str = "", **more: object
) -> Task:
    """A task that was worked out. Raises FieldError."""
    return Task.made(
        id=key[:200], tree=tree, kind=kind, to=last, text=text, why=why, sign=sign, **{"from": first}, **more
    )  # fmt: skip


def interim_tasks(c: Collection, now: Mapping[str, Planting]) -> Iterator[Task]:
    """Pots that were only for a while."""
    for p in now.values():
        if p.interim_until is not None and p.pot in c.pots:
            yield made(
                f"interim-{p.id}", p.tree, "leave_interim", later(p.interim_until, -INTERIM_DAYS), p.interim_until,
                f"Out of {c.pots[p.pot].name}: it was for a while only. Swap the pot, leave the roots.",
                f"{c.pots[p.pot].name} until {p.interim_until:%-d %b %Y}", pot=p.pot,
            )  # fmt: skip


def order_tasks(c: Collection) -> Iterator[Task]:
    """Pots that were promised."""
    for order in c.orders.values():
        pot = c.pots.get(order.pot)
        if order.promised is None or order.status in ("here", "off") or pot is None:
            continue
        tree = pot.made_for or (pot.reserved.tree if pot.reserved is not None else None)
        if tree is None or tree not in c.trees:
            continue
        yield made(
            f"order-{order.id}-{order.promised:%Y%m%d}", tree, "order_due", order.promised, later(order.promised, ORDER_DAYS),
            f"{pot.name} was promised for {order.promised:%-d %b %Y}: ask for it, or write down the new day.", "an order with a maker",
            "The pot is here.", pot=order.pot,
        )  # fmt: skip


def holding_tasks(c: Collection, now: Mapping[str, Planting], curves: Mapping[str, Filling]) -> Iterator[Task]:
    """Ties with a day of their own, and guys, stones and rods once roots hold the tree."""
    for p in now.values():
        tree = p.tree
        for tie in p.ties:
            if tie.off_by is not None:
                yield made(
                    f"tie-{p.id}-{tie.id}", tree, "take_off_ties", later(tie.off_by, -TIES_DAYS), tie.off_by,
                    f"Take wire {tie.id} off.", "its own day", "It bites, or the trunk no longer rocks.",
                )  # fmt: skip
        for guy in p.branch_guys:
            off = comes_off(guy, p)
            if off is not None:
                yield made(
                    f"branch-{p.id}-{guy.id}", tree, "take_off_branch", later(off, -TIES_DAYS), off,
                    f"Take the guy off {guy.branch.strip()}.", "its own day" if guy.off_by is not None else "half a year after potting",
                    "It bites, or the branch stays where it is when the wire is slack.",
                )  # fmt: skip
        curve = curves.get(tree)
        what = {"guys": "guys", "stones": "stones", "rods": "rods"}.get(p.anchors) or ("stones" if p.stones else None)
        if what is None or curve is None:
            continue
        held = curve.reaches(HOLDS)
        if held is not None and p.date is not None and held >= p.date:
            yield made(
                f"holding-{p.id}", tree, "take_off_holding", held, later(held, 2 * TIES_DAYS),
                f"Take off the {what}: roots should hold it.", f"roots fill {HOLDS:.0%} by then", "The trunk does not rock when pushed.",
            )  # fmt: skip


def stage_tasks(c: Collection) -> Iterator[Task]:
    """Later repottings of a root plan that was kept."""
    for p in c.plantings:
        if p.ended is not None or p.plan_made is None or p.tree not in c.trees:
            continue
        for year in sorted({s.year for s in p.plan if s.year > 0 and s.action != "keep"}):
            roots = [s.root for s in p.plan if s.year == year and s.action != "keep"]
            day = after_years(p.plan_made, year)
            yield made(
                f"stage-{p.id}-{year:g}", p.tree, "root_stage", day, later(day, STAGE_DAYS),
                f"Next stage of the root plan: {', '.join(roots[:6])}{' …' if len(roots) > 6 else ''}.",
                f"year {year:g} of the plan kept on {p.plan_made:%-d %b %Y}",
            )  # fmt: skip


def tube_tasks(c: Collection, now: Mapping[str, Planting]) -> Iterator[Task]:
    """Soil of root tubes, lowered year by year."""
    for p in now.values():
        start = (p.tube.from_ or p.date) if p.tube is not None else None
        if p.tube is None or start is None or p.pot not in c.pots:
            continue
        deep = c.pots[p.pot].inner_depth_mm
        for n in range(1, min(int(deep / p.tube.lower_mm_year), TUBE_YEARS) + 1):
            day = after_years(start, n)
            yield made(
                f"tube-{p.id}-{n}", p.tree, "lower_soil", day, later(day, TUBE_DAYS),
                f"Lower the soil by {p.tube.lower_mm_year:g} mm, to {n * p.tube.lower_mm_year:g} mm below the rim.",
                f"{p.tube.lower_mm_year:g} mm a year", "Roots at the top are firm and as brown as bark.",
            )  # fmt: skip


def arrival_tasks(c: Collection, today: date) -> Iterator[Task]:
    """New trees are looked at at once."""
    for tree in c.trees.values():
        if tree.acquired is None or not 0 <= (today - tree.acquired).days <= NEW_KNOWN_DAYS:
            continue
        if any(
            e.date >= tree.acquired and e.kind in ("seen", "round", "repotted", "root_work")
            for e in c.events_of(tree.id)
        ):
            continue
        yield made(
            f"new-{tree.id}", tree.id, "inspect_new", tree.acquired, later(tree.acquired, NEW_DAYS),
            "Lift it out and look: soil, roots at the wall, pests, ties, drain holes. Keep it apart from the others until then.",
            f"here since {tree.acquired:%-d %b %Y}", "It was looked at all round.",
        )  # fmt: skip
