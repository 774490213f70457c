"""Before the roots are touched: wires, mix, lifting."""

from kesh.advice.planting.steps.step import Tools, WorkStep, care, counted, organic
from kesh.advice.planting.worksheet import front_lines
from kesh.advice.roots.work import work
from kesh.advice.rules.handling import lift_alone_kg
from kesh.science.season.season import year_at


def wires(t: Tools) -> WorkStep | None:
    """Screens and wires, before the tree is lifted."""
    cuts = t.cuts
    if cuts is None:
        return None
    n, clips = len(cuts.screens), sum(c.count for c in cuts.clips)
    screens = f"{counted(n, 'screen')} on"
    lines = [
        f"Mesh {cuts.mesh_mm:g} mm; {counted(clips, 'clip')} hold{'s' if clips == 1 else ''} {'it' if n == 1 else 'them'}."
    ]
    if cuts.planned_drains or cuts.planned_ties:
        lines.append("Drill the planned holes first.")
    anchors = t.ties.anchors if t.ties is not None else "none"
    if cuts.ties and anchors in ("ties", "rods"):
        longest = max(w.length_mm for w in cuts.ties)
        return WorkStep(
            "wires", "wires", f"Screens on, {counted(len(cuts.ties), 'wire')} in", t.u.figure(longest), f"{t.u.length}, the longest wire",
            (*lines, "Both ends stand up inside, bent over the rim so that no eye meets them."), "wires", cautions=care("wire_ends"),
        )  # fmt: skip
    if anchors == "raft" and cuts.ties:
        lines.append("Thread the wires through the raft before it goes in.")
    return WorkStep(
        "wires",
        "screens",
        screens,
        lines=tuple(lines),
        drawing="wires",
        cautions=care("wire_ends") if cuts.ties else (),
    )


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
    total = t.u.litres(batch.total_l)
    figure, _, unit = total.partition(" ")
    return WorkStep(
        "mix", "mix", "Mix the soil, and damp it", figure, f"{unit} in all, a second helping of {t.u.litres(batch.second_l)} among it", lines, "soil",
        cautions=care(*keys),
    )  # fmt: skip


def lift(t: Tools) -> WorkStep:
    """Out of the old pot; the clock starts."""
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
    year = year_at(a.case.site)
    effort = work(a.figures)
    if effort is not None and year is not None and effort.long_on_a_hot_day(year.mean_on(a.case.day)):
        keys.append("sun_work")
        lines.append("A hot day and long work: start early, in the shade, with a rest every half hour.")
    minutes = None if effort is None else effort.lift
    mass = a.figures.roots
    figure = "" if mass is None else f"{mass.ball_volume_l:.1f}"
    return WorkStep(
        "lift", "lift", "Lift the tree out", figure, "l of root mass" if figure else "", tuple(lines), "lift", "start", minutes, care(*keys)
    )  # fmt: skip
