"""Two plants in one pot."""

import numpy as np

from kesh.advice.kinds.kind import FieldRow, Grip, Kind, azimuth_deg, ray
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.kinds.sector import roots_ring, sector_above
from kesh.advice.planting.findings import side_words
from kesh.advice.planting.steps.step import PLAIN, WorkStep, behind
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Stroke, oval
from kesh.model import Companion, Planting, RootMass, Tree
from kesh.science.season.days import later
from kesh.science.special.shared import in_sector, sector_share, sector_width_deg


def second_tree(tree: Tree, row: Companion, key: str) -> Tree:
    """A card for the second plant with the measures that are known of it; its roots are its part of the mass."""
    from kesh.model import Measure

    measure = Measure(height_mm=row.height_mm, trunk_diameter_mm=row.trunk_mm, taken=tree.measure.taken)
    roots = tree.roots
    masses: tuple[RootMass, ...] = ()
    if roots is not None:
        share = sector_share(
            roots_ring(roots), roots.depth_mm, row.from_deg, row.to_deg, row.reach_share, roots.feeders
        )
        k = max(share.mass, 1e-3) ** 0.5
        masses = (
            roots.changed(
                length_mm=round(roots.length_mm * k, 1),
                width_mm=round(roots.width_mm * k, 1),
                offset_x_mm=0.0,
                offset_y_mm=0.0,
                pockets=(),
                untouched=(),
            ),
        )
    return Tree(
        id=key, name=row.name or f"Second of {tree.name}", species=row.species, style="informal_upright", stage="growing_on", measures=(measure,), root_masses=masses,
        origin=f"found in the pot of {tree.name}", seed=(tree.seed * 7 + 5) % 2**31,
    )  # fmt: skip


def companion(s: Setting) -> SpecialPlan:
    """The plan of two in one pot."""
    row, u, roots = s.planting.companion, s.u, s.a.case.roots
    if row is None:
        return nothing_yet(
            "companion",
            "No second plant yet",
            "companion",
            "Nothing of the second plant is entered yet.",
            "Say which side it stands on and how far its roots go.",
        )
    name = row.name or "the second plant"
    wide = sector_width_deg(row.from_deg, row.to_deg)
    middle = (row.from_deg + wide / 2) % 360
    found, figures = [], [Figure("Stands", f"{side_words(middle)}, {wide:.0f}°")]
    if roots is None:
        found.append(
            finding(
                "companion_share",
                "unknown",
                "The root mass is not known; its share is not told.",
                "Measure the root mass: step 1.",
            )
        )
        title = f"{name} shares the pot"
    else:
        share = sector_share(
            roots_ring(roots), roots.depth_mm, row.from_deg, row.to_deg, row.reach_share, roots.feeders
        )
        found.append(
            finding(
                "companion_share",
                "watch" if share.feeders > 0.35 else "fits",
                f"{name[0].upper() + name[1:]} has {share.mass:.0%} of the root mass, {u.litres(share.volume_l)}, and {share.feeders:.0%} of the feeders.",
                "To part them costs the first tree that share: over two repottings." if share.feeders > 0.35 else "",
                share.feeders,
                "",
                None,
                0.35,
            )
        )
        figures += [
            Figure("Root mass", f"{share.mass:.0%}, {u.litres(share.volume_l)}"),
            Figure("Feeders", f"{share.feeders:.0%}"),
        ]
        limit = s.a.case.limit_share
        if limit is not None:
            status = "fits" if share.feeders <= limit else "no"
            found.append(
                finding(
                    "companion_cut",
                    status,
                    f"To part them takes {share.feeders:.0%} of the feeders; {limit:.0%} is the limit now.",
                    "" if status == "fits" else "Leave them together until the next repotting, or part them in halves.",
                    share.feeders,
                    "",
                    None,
                    limit,
                )
            )
        title = f"{name[0].upper() + name[1:]} has {share.mass:.0%} of the roots"
    in_way = [
        r.id
        for r in s.a.case.tree.root_map
        if bool(in_sector(r.azimuth_deg, row.from_deg, row.to_deg)) and r.diameter_mm >= 8
    ]
    if in_way:
        found.append(
            finding(
                "companion_roots",
                "watch",
                f"{len(in_way)} thick root{'' if len(in_way) == 1 else 's'} of the first tree run in its sector.",
                "Comb along them, do not saw through.",
            )
        )
    unknown = [w for w, v in (("height", row.height_mm), ("trunk", row.trunk_mm)) if v is None]
    if unknown:
        found.append(
            finding(
                "companion_measure",
                "unknown",
                f"{' and '.join(unknown).capitalize()} of {name} {'is' if len(unknown) == 1 else 'are'} not known.",
                "Measure it before it is lifted: its own card starts with them.",
            )
        )
    after = (care("look_closer", 14, 28, f"Look at both: the tree and {name}.", "Both grow."),)
    stages = (
        Stage("Together", None, "this season", "watered for the thirstier", Overlay(_companion_front(s, together=True))),
        Stage("Parted", s.day, f"{months(s.day)}, at the repotting", "each its own soil", Overlay(_companion_front(s, together=False))),
        Stage("On its own", later(s.day, 365), "grows by itself", "its own card", Overlay()),
    )  # fmt: skip
    return SpecialPlan("companion", title, tuple(figures), tuple(found), (), stages, Overlay(_companion_front(s, together=True)), Overlay(sector_above(s, row.from_deg, row.to_deg, name, row.reach_share)), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row = s.planting.companion or Companion()
    name = row.name or "the second plant"
    wide = (row.to_deg - row.from_deg) % 360 or 360.0
    return (
        WorkStep("guard", "guard", f"Mark the sector of {name}", f"{wide:.0f}", "degrees of the root mass", ("Two sticks at its edges; wrap its side in a wet cloth.",), minutes=3.0),
        WorkStep("part", "part", f"Part {name} from the tree", f"{wide:.0f}", "degrees of the root mass", ("Comb from the outside in along the sector's edges; cut only what ties them.", "Its own soil stays on it." if row.keep_soil else "Wash its roots."), cautions=caution("root_saw"), minutes=20.0),
        WorkStep("second_pot", "second", f"{name[0].upper() + name[1:]} into a pot of its own", lines=("Make its card from this one: measures and root share are copied.",), minutes=10.0),
    )  # fmt: skip


def _companion_front(s: Setting, *, together: bool) -> tuple[Shape, ...]:
    row = s.planting.companion
    assert row is not None
    if not together:
        return ()
    x, foot = s.foot
    middle = (row.from_deg + sector_width_deg(row.from_deg, row.to_deg) / 2) % 360
    roots = s.a.case.roots
    away = 0.32 * (roots.length_mm if roots is not None else s.a.pot.length_mm)
    at = x - away * float(np.sin(np.radians(middle)))
    tall = row.height_mm or 90.0
    thick = row.trunk_mm or 4.0
    shapes: list[Shape] = [
        Stroke(((at, foot - 10), (at + 0.03 * tall, foot + 0.5 * tall), (at - 0.02 * tall, foot + tall)), "wood", thick)
    ]
    for k in range(5):
        z = foot + tall * (0.35 + 0.16 * k)
        side = 1 if k % 2 else -1
        reach = 0.24 * tall * (1 - 0.12 * k)
        shapes.append(Stroke(((at, z - 4), (at + side * reach, z + 0.06 * tall)), "wood", 1.4))
        for j in range(4):
            shapes.append(
                Area(
                    oval(
                        at + side * reach * (0.35 + 0.22 * j),
                        z + 0.05 * tall + (3 if j % 2 else -3),
                        0.05 * tall,
                        0.022 * tall,
                        16,
                    ),
                    "plant",
                )
            )
    shapes.append(Area(oval(at - 0.02 * tall, foot + tall, 0.06 * tall, 0.03 * tall, 16), "plant"))
    shapes.append(
        Note((at + 0.3 * tall, foot + 0.9 * tall), row.name or "second plant", to=(at + 0.04 * tall, foot + 0.8 * tall))
    )
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    row = s.planting.companion
    if row is None:
        return []
    return [
        ray(s, "companion:from", "Sector, first edge", row.from_deg),
        ray(s, "companion:to", "Sector, last edge", row.to_deg),
    ]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.companion is not None
    return p.changed(companion=p.companion.changed(**{f"{what}_deg": azimuth_deg(s, x_mm, y_mm)}))


ORDER = ("guard", *behind(PLAIN, "surface", "part", "second_pot"))
KIND = Kind(
    KindRow("companion", 10, "Two in one pot", "A second plant shares the pot: its sector of the roots is told apart, and it can get a card of its own.", field="companion"),
    fields=(
        FieldRow("name", "Name", "text"), FieldRow("species", "Species", "text", "A key of the species table, such as rowan"),
        FieldRow("from_deg", "From", "deg", "Clockwise from the front, seen from above", blank=False), FieldRow("to_deg", "To", "deg", "Clockwise from the front", blank=False),
        FieldRow("reach_share", "Of the reach", "number", "0 to 1, counted from outside", blank=False), FieldRow("height_mm", "Height", "mm"), FieldRow("trunk_mm", "Trunk", "mm"),
        FieldRow("keep_soil", "Keeps its soil", "flag"),
    ),
    make=companion,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Companion(),
    grips=_grips,
    pull=_pull,
    links=("card",),
)  # fmt: skip
