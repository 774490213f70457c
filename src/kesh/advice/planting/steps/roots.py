"""On the roots: surface, comb, cut, saw, try."""

from kesh.advice.planting.steps.step import Tools, WorkStep, care, over_rim, sap
from kesh.advice.roots.this_year import SIDES, this_year
from kesh.advice.roots.work import pockets_for, sawn, steps_now, work
from kesh.advice.rules.roots import SAWN, comb_minutes, saw_allowed
from kesh.base.words import counted
from kesh.science.roots.pockets import WORDS as POCKET_WORDS
from kesh.science.roots.time import SITTING_MIN

SURFACE_MIN = 5.0


def surface(t: Tools) -> WorkStep | None:
    """Soil off from the trunk outward until the flare shows; the roots lie bare from here."""
    year = this_year(t.a.figures)
    if year is None or year.nothing:
        return None
    top = [x for x in t.a.case.tree.features if x.kind == "top_roots"]
    species = t.a.case.species
    # what stores water has no moss on its soil, and nothing about it is kept damp
    saved = (
        "Stones and figures that stand on it come first, and go back once the soil is filled."
        if species is not None and species.stores_water
        else "Moss, stones and figures that stand on it come first, in whole pieces; damp and in the shade they wait, and go back once the soil is filled."
    )
    lines = [
        saved,
        "From the trunk outward, with a small hook, until the flare and the first roots show: everything else is measured from there.",
    ]
    if top:
        lines.append(
            f"The uppermost roots lie {t.u.mm(abs(max(x.height_mm for x in top)))} {'over' if max(x.height_mm for x in top) >= 0 else 'under'} the old soil line."
        )
    return WorkStep(
        "surface",
        "surface",
        "Take the surface soil off",
        lines=tuple(lines),
        drawing="comb",
        clock="start",
        minutes=SURFACE_MIN,
    )


def comb(t: Tools) -> WorkStep | None:
    """The sides, what comes off below without a saw, pockets, and what is left alone: this year's share and no more."""
    f, u = t.a.figures, t.u
    year = this_year(f)
    if year is None or year.nothing:
        return None
    off = {name: mm for name, mm in zip(SIDES, year.sides_mm, strict=True) if mm > 0.5}
    lines = [f"{u.mm(mm)} off the {name}" for name, mm in off.items()]
    if year.bottom_mm > 0.5 and not sawn_now(t):
        lines.append(f"{u.mm(year.bottom_mm)} off from below with a hook, root by root")
    lines += [
        f"Rake out {POCKET_WORDS[p.pocket.kind]} at {p.pocket.middle_deg:.0f}°, {u.litres(p.part.volume_l)}"
        for p in pockets_for(f)
        if p.year == 0
    ]
    roots = t.a.case.roots
    if roots is not None:
        lines += [
            f"Leave {s.from_deg:.0f}° to {s.to_deg:.0f}° as it is: {s.why or 'untouched'}" for s in roots.untouched
        ]
    if year.repottings > 1:
        lines.append(f"That is {year.share:.0%} of the feeders, the first of {year.repottings} repottings. Stop there.")
        if year.over_mm > 0.5 and year.goes_in:
            lines.append(f"Until the next one it stands {u.mm(year.over_mm)} higher, on a mound.")
        elif year.home and not year.goes_in:
            lines.append("It goes back as high as it stands; the ring of fresh mix is whole after the last of them.")
        elif not year.goes_in:
            lines.append(
                "It does not go into this pot yet: until the last of them it stays in its own, or in one as large."
            )
    tool = "Rake and hook" if t.a.case.brief.root_views.tool == "rake" else "Comb with a chopstick"
    minutes = comb_minutes(f, 0)
    effort = work(f)
    if minutes > SITTING_MIN:
        lines.append(
            f"After {SITTING_MIN:.0f} minutes wrap it in wet cloth and plastic, stand it in the shade, and go on tomorrow."
        )
    if t.a.case.brief.root_views.old_soil == "wash":
        lines.append("Wash the rest of the old soil out.")
        minutes += 0.0 if effort is None else effort.wash
    clear = t.a.seat.clearance_mm
    title = f"{tool}, {u.mm(max(off.values()))} off the sides" if off else f"{tool} the outside"
    return WorkStep(
        "comb", "comb", title, u.figure(clear), f"{u.length} of fresh mix is to fit all round", tuple(lines), "comb",
        minutes=minutes, cautions=care(*sap(t.a)),
    )  # fmt: skip


def goes_in(t: Tools) -> bool:
    """Whether it is planted into this pot now; else it goes back into its own until more has come off."""
    year = this_year(t.a.figures)
    return year is None or year.goes_in


def at_home(t: Tools) -> bool:
    """Whether it stands in this pot already."""
    year = this_year(t.a.figures)
    return year is not None and year.home


def sawn_now(t: Tools) -> bool:
    """Whether the bottom is sawn flat: where the plan asks for it and the species bears it."""
    year = this_year(t.a.figures)
    return (
        year is not None
        and year.bottom_mm > 0.5
        and t.a.case.brief.root_views.amount in SAWN
        and saw_allowed(t.a.figures)
    )


def roots(t: Tools) -> WorkStep | None:
    """Roots of the map that go now."""
    a, u = t.a, t.u
    steps = steps_now(a.figures)
    if not steps or a.case.brief.root_views.amount == "nothing":
        return None
    number = {r.id: n + 1 for n, r in enumerate(a.case.tree.root_map)}
    by_id = {r.id: r for r in a.case.tree.root_map}
    lines = []
    for step in sorted(steps, key=lambda s: number[s.root]):
        root = by_id[step.root]
        what = {
            "shorten": f"cut at {u.mm(step.at_mm or 0)}, beyond its side root", "move": "move it by hand", "remove": "off at the trunk",
        }[step.action]  # fmt: skip
        lines.append(f"Root {number[root.id]}, {u.mm(root.diameter_mm)} at {root.azimuth_deg:.0f}°: {what}")
    if a.case.brief.root_views.seal:
        lines.append("Seal the cuts with paste.")
    effort = work(a.figures)
    return WorkStep(
        "roots", "roots", f"Cut {counted(len(steps), 'root')}", str(len(steps)), f"{'root by its number' if len(steps) == 1 else 'roots by their numbers'} on the map", tuple(lines), "roots",
        minutes=None if effort is None else effort.roots, cautions=care("root_saw"),
    )  # fmt: skip


def saw(t: Tools) -> WorkStep | None:
    """What is sawn off the bottom."""
    f, u = t.a.figures, t.u
    year, whole = this_year(f), t.a.case.roots
    if year is None or whole is None or not sawn_now(t):
        return None
    effort, area = work(f), sawn(f)[0]
    return WorkStep(
        "saw", "saw", f"Saw {u.mm(year.bottom_mm)} off the bottom", u.figure(year.bottom_mm), f"{u.length} off; {u.mm(whole.depth_mm - year.bottom_mm)} stay",
        ("Lay the blade flat on two battens as high as what comes off.", f"{f'The cut is {area:.0f} cm²; thick' if area >= 1 else 'Thick'} roots clean, with shears."), "saw",
        minutes=max(3.0, 0.0 if effort is None else effort.saw), cautions=care("root_saw"),
    )  # fmt: skip


def try_it(t: Tools) -> WorkStep | None:
    """The trial fit."""
    a, u = t.a, t.u
    if a.figures.roots is None or not a.figures.plantable[0]:
        return None
    if not goes_in(t):
        return WorkStep(
            "try",
            "try",
            "Try it in its pot again" if at_home(t) else "Try it in its own pot, or one as large",
            lines=("The trunk as high as it stood; more mix under it where roots came off.",),
            drawing="try",
            minutes=3.0,
        )
    return WorkStep(
        "try", "try", "Try it in the pot", over_rim(t)[0], f"{over_rim(t)[1]} is wanted for the top of the roots",
        (f"Set it on {u.mm(a.seat.base_mm)} of mix, measure from the rim to the top of the roots, and type the figure: below the rim with a minus.",), "try", minutes=3.0,
    )  # fmt: skip
