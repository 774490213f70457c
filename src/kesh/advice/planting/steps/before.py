"""Before the roots are touched: screens, wires, mix, lifting."""

from kesh.advice.planting.soil_batch import organic
from kesh.advice.planting.steps.step import Tools, WorkStep, care
from kesh.advice.planting.worksheet import front_lines
from kesh.advice.roots.work import work
from kesh.advice.rules.handling import lift_alone_kg
from kesh.base.words import counted
from kesh.science.season.season import year_at


def screens(t: Tools) -> WorkStep | None:
    """Mesh over the drain holes."""
    cuts = t.cuts
    if cuts is None or not cuts.screens:
        holes = len(t.a.pot.drain_holes)
        if t.a.pot.profile.kind == "slab" or not holes:
            return None
        return WorkStep("screens", "screens", f"Mesh over {counted(holes, 'drain hole')}", lines=("A clip of wire holds each, both legs bent outward below.",), drawing="wires", minutes=2.0 * holes)  # fmt: skip
    n, clips = len(cuts.screens), sum(c.count for c in cuts.clips)
    lines = [
        f"Mesh {cuts.mesh_mm:g} mm; {counted(clips, 'clip')} hold{'s' if clips == 1 else ''} {'it' if n == 1 else 'them'}."
    ]
    if cuts.planned_drains or cuts.planned_ties:
        lines.append("Drill the planned holes first.")
    return WorkStep(
        "screens", "screens", f"{counted(n, 'screen')} on", lines=tuple(lines), drawing="wires", minutes=2.0 * n + 1.0
    )


def wires(t: Tools) -> WorkStep | None:
    """Tie wires through the floor, before the tree is lifted."""
    cuts = t.cuts
    anchors = t.ties.anchors if t.ties is not None else "none"
    if cuts is None or not cuts.ties or anchors not in ("ties", "rods", "raft", "guys"):
        return None
    longest, n = max(w.length_mm for w in cuts.ties), len(cuts.ties)
    lines = ("Both ends stand up inside, bent over the rim so that no eye meets them.",)
    if anchors == "raft":
        lines = ("Thread the wires through the raft before it goes in.",)
    return WorkStep(
        "wires", "wires", f"{counted(n, 'wire')} in", t.u.figure(longest), f"{t.u.length}, the longest wire", lines, "wires",
        minutes=2.0 * n, cautions=care("wire_ends"),
    )  # fmt: skip


def mix(t: Tools) -> WorkStep | None:
    """The mix by component and scoop."""
    batch = t.batch
    if batch is None:
        return None
    lines = tuple(
        f"{line.scoops:.1f} scoops of {line.name}, {line.grains} ({t.u.litres(line.litres)})" for line in batch.lines
    )
    keys = ["dry_dust"]
    if organic(t.a):
        keys.append("microbes")
    feed = {
        "under": "A few feed pellets go on the base, never against a cut root.",
        "mixed": "Slow feed into the mix, as its label says for a pot of this volume.",
    }
    way = t.a.case.brief.planting_views.feed
    lines = (*lines, feed[way]) if way in feed else lines
    total = t.u.litres(batch.total_l)
    figure, _, unit = total.partition(" ")
    return WorkStep(
        "mix", "mix", "Mix the soil, and damp it", figure, f"{unit} in all, a second helping of {t.u.litres(batch.second_l)} among it", lines, "soil",
        minutes=4.0 + batch.total_l, cautions=care(*keys),
    )  # fmt: skip


def lift(t: Tools) -> WorkStep:
    """Out of the old pot."""
    a, u = t.a, t.u
    lines = ["Take old ties off from below, turn the tree a little, then draw it up."]
    if a.figures.undercut[0][0] > 2:
        lines.append("The lip of the new pot turns in: remember it for the next time.")
    lines += front_lines(a)
    stand, keys = a.figures.stand, []
    if stand is not None:
        wet, limit = float(stand.mass_wet_kg[0]), float(lift_alone_kg(a.figures)[0])
        if wet > limit:
            keys.append("heavy_lift")
            lines.append(
                f"Planted and wet it will weigh {u.kg(wet)}: two people, with {u.kg(limit)} for one at this width. "
                "Alone: plant it where it will stand, or slide it on a board over battens and rollers; never lift by the tree."
            )
    year = year_at(a.case.site, *a.case.own.housed)
    effort = work(a.figures)
    if (
        t.a.case.brief.root_views.amount != "nothing"
        and effort is not None
        and year is not None
        and effort.long_on_a_hot_day(year.mean_on(a.case.day))
    ):
        keys.append("sun_work")
        lines.append("A hot day and long work: start early, in the shade, with a rest every half hour.")
    minutes = None if effort is None else effort.lift
    mass = a.figures.roots
    figure = "" if mass is None else f"{mass.ball_volume_l:.1f}"
    return WorkStep(
        "lift", "lift", "Lift the tree out", figure, "l of root mass" if figure else "", tuple(lines), "lift", "", minutes or 5.0, care(*keys)
    )  # fmt: skip
