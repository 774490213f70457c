"""Two plants in one pot and approach grafts: sectors that are told apart or left alone."""

import numpy as np

from kesh.advice.kinds.plan import Figure, Placed, Setting, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.planting.findings import side_words
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, oval, wedge
from kesh.geometry.outline import Floats, outline_points
from kesh.model import Companion, Graft, RootMass, Tree
from kesh.science.season.days import later
from kesh.science.special.shared import graft_release, in_sector, sector_share, sector_width_deg


def roots_ring(roots: RootMass) -> Floats:
    """The root mass from above about the trunk, (k, 2)."""
    return np.asarray(
        outline_points(roots.outline, roots.length_mm, roots.width_mm)
        + np.array([roots.offset_x_mm, roots.offset_y_mm])
    )


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
    pot = (
        "a pot of its own"
        if roots is None
        else f"a pot of {u.mm(2 * 30 + max(roots.length_mm, roots.width_mm) * 0.5 * wide / 180)} inside"
    )
    steps = (
        Placed("lift", WorkStep("part", "part", f"Part {name} from the tree", "" if roots is None else f"{wide:.0f}", "degrees of the root mass", ("Comb from the outside in along the sector's edges; cut only what ties them.", "Its own soil stays on it." if row.keep_soil else "Wash its roots."), cautions=caution("root_saw"), minutes=20.0)),
        Placed("part", WorkStep("second_pot", "second", f"{name[0].upper() + name[1:]} into {pot}", lines=("Make its card from this one: measures and root share are copied.",), minutes=10.0)),
    )  # fmt: skip
    after = (care("look_closer", 14, 28, f"Look at both: the tree and {name}.", "Both grow."),)
    stages = (
        Stage("Together", None, "this season", "watered for the thirstier", Overlay(_companion_front(s, together=True))),
        Stage("Parted", s.day, f"{months(s.day)}, at the repotting", "each its own soil", Overlay(_companion_front(s, together=False))),
        Stage("On its own", later(s.day, 365), "grows by itself", "its own card", Overlay()),
    )  # fmt: skip
    return SpecialPlan("companion", title, tuple(figures), tuple(found), steps, (), stages, Overlay(_companion_front(s, together=True)), Overlay(_sector_above(s, row.from_deg, row.to_deg, name, row.reach_share)), after)  # fmt: skip


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


def _sector_above(s: Setting, from_deg: float, to_deg: float, name: str, reach_share: float) -> tuple[Shape, ...]:
    roots = s.a.case.roots
    x, y = s.planting.offset_x_mm, s.planting.offset_y_mm
    reach = 0.5 * (max(roots.length_mm, roots.width_mm) if roots is not None else 0.8 * s.a.pot.length_mm)
    shapes: list[Shape] = []
    if roots is not None:
        ring = roots_ring(roots)
        shapes.append(Area(tuple((float(a) + x, float(b) + y) for a, b in ring), "root", "behind"))
    shapes.append(Area(wedge(x, y, from_deg, to_deg, reach), "sector"))
    if reach_share < 1:
        shapes.append(Stroke(wedge(x, y, from_deg, to_deg, reach * (1 - reach_share))[1:], "cut", dashed=True))
    middle = np.radians((from_deg + sector_width_deg(from_deg, to_deg) / 2) % 360)
    shapes.append(
        Note((x - 0.66 * reach * float(np.sin(middle)), y - 0.66 * reach * float(np.cos(middle))), name, align="center")
    )
    return tuple(shapes)


def graft_sector(row: Graft) -> tuple[float, float]:
    """First and last azimuth of the roots that are left alone, degrees."""
    return (row.azimuth_deg - row.half_deg) % 360, (row.azimuth_deg + row.half_deg) % 360


def graft(s: Setting) -> SpecialPlan:
    """The plan of an approach graft."""
    row, u = s.planting.graft, s.u
    if row is None:
        return nothing_yet(
            "graft",
            "No graft yet",
            "graft_plan",
            "Nothing of the graft is entered yet.",
            "Say which side it is set on, and when.",
        )
    low, high = graft_sector(row)
    start = row.set_on or s.day
    free = graft_release(start)
    found = []
    ripe = s.today >= free and row.grows_alone
    if ripe:
        found.append(
            finding("graft_fused", "fits", "A season has passed and the scion grows on its own: it may be cut free.")
        )
    else:
        why = "the scion does not grow on its own yet" if s.today >= free else f"not before {months(free)}"
        found.append(
            finding(
                "graft_fused",
                "watch",
                f"It is not cut free: {why}.",
                "The sign decides: its buds open before the seedling's own would, and it thickens above the join.",
            )
        )
    touched = [r.id for r in s.a.case.tree.root_map if bool(in_sector(r.azimuth_deg, low, high)) and not r.keep]
    if touched:
        found.append(
            finding(
                "graft_sector",
                "watch",
                f"Root {', '.join(touched)} lies in the sector that is left alone.",
                "Mark it kept in the root map: then no plan cuts it.",
            )
        )
    else:
        found.append(
            finding(
                "graft_sector", "fits", f"{2 * row.half_deg:.0f}° towards {side_words(row.azimuth_deg)} are left alone."
            )
        )
    untouched = s.a.case.roots.untouched if s.a.case.roots is not None else ()
    covered = any(bool(in_sector(row.azimuth_deg, t.from_deg, t.to_deg)) for t in untouched)
    if s.a.case.roots is not None and not covered and not ripe:
        found.append(
            finding(
                "graft_untouched",
                "watch",
                "The root plan does not know the sector yet.",
                "Take it into the root mass as a side that is left alone: the link below does it.",
            )
        )
    steps = (
        Placed("lift", WorkStep("graft_guard", "guard", f"Leave {side_words(row.azimuth_deg)} alone", f"{2 * row.half_deg:.0f}", "degrees are not touched", ("The seedling's soil stays on; wrap it in a wet cloth while you work.",), minutes=3.0)),
        Placed("test", WorkStep("graft_look", "look", f"Look at the join; free not before {months(free)}", "", "", ("Loosen the tie before it cuts in.",), cautions=caution("wire_ends"), minutes=3.0)),
    )  # fmt: skip
    after = (
        care(
            "separate_graft",
            365,
            430,
            "Cut the graft free, in two cuts a month apart, if it grows on its own.",
            "The scion thickens above the join and its buds open by themselves.",
        ),
    )
    figures = (
        Figure("Sector", f"{2 * row.half_deg:.0f}° to {side_words(row.azimuth_deg)}"),
        Figure("Join", f"{u.mm(row.height_mm)} over the soil"),
        Figure("Free", f"from {months(free)}, by its sign"),
    )
    stages = (
        Stage("Set", start, months(start), "tied, sealed", Overlay(_graft_front(s, fused=False))),
        Stage("Growing together", later(start, 180), "it thickens", "sector untouched", Overlay(_graft_front(s, fused=False))),
        Stage("Cut free", free, "grows on its own", "in two cuts", Overlay(_graft_front(s, fused=True))),
    )  # fmt: skip
    title = (
        "Grown together: it may be cut free"
        if ripe
        else f"{2 * row.half_deg:.0f}° left alone until it has grown together"
    )
    return SpecialPlan("graft", title, figures, tuple(found), steps, (), stages, Overlay(_graft_front(s, fused=ripe)), Overlay(_sector_above(s, low, high, "left alone", 1.0)), after)  # fmt: skip


def _graft_side(row: Graft) -> float:
    """How far to the right the scion comes from, by the trunk's half; one from the front or the back is shown a little aside."""
    return -float(np.sin(np.radians(row.azimuth_deg))) or 0.4


def join_at(s: Setting, row: Graft) -> tuple[float, float]:
    """Where scion and trunk are joined in the front view, mm; its height is told over the soil."""
    thick = (s.a.case.tree.measure.trunk_diameter_mm or 30.0) / 2
    return s.planting.offset_x_mm + _graft_side(row) * thick * 0.9, s.soil_mm + row.height_mm


def _graft_front(s: Setting, *, fused: bool) -> tuple[Shape, ...]:
    row = s.planting.graft
    assert row is not None
    x, soil = s.planting.offset_x_mm, s.soil_mm
    side = _graft_side(row)
    thick = (s.a.case.tree.measure.trunk_diameter_mm or 30.0) / 2
    out = x + side * (thick + 30)
    join = join_at(s, row)
    shapes: list[Shape] = []
    if not fused:
        shapes.append(
            Stroke(((out, soil - 12), (out + side * 4, soil + 0.5 * row.height_mm), join), "wood", row.scion_mm)
        )
    tip = (join[0] + side * 34, join[1] + 0.8 * row.height_mm + 26)
    shapes.append(Stroke((join, (join[0] + side * 16, join[1] + 20), tip), "wood", row.scion_mm))
    for k in range(4):
        t = 0.4 + 0.2 * k
        shapes.append(
            Area(
                oval(
                    join[0] + (tip[0] - join[0]) * t + (5 if k % 2 else -5),
                    join[1] + (tip[1] - join[1]) * t + 3,
                    7,
                    4,
                    16,
                ),
                "plant",
            )
        )
    shapes.append(Area(oval(*join, row.scion_mm + 3, row.scion_mm + 5, 20), "paste"))
    shapes.append(
        Size(
            (join[0] + side * 40, soil),
            (join[0] + side * 40, join[1]),
            s.u.figure(row.height_mm),
            16.0 * (1 if side > 0 else -1),
            level=False,
        )
    )
    return tuple(shapes)
