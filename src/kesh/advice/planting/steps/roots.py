"""On the bare roots: comb, cut, saw, try."""

from kesh.advice.planting.steps.step import Tools, WorkStep, care, counted, over_rim, sap
from kesh.advice.roots.work import pockets_for, sawn, steps_now, work
from kesh.advice.rules.roots import comb_words, saw_allowed
from kesh.science.roots.pockets import WORDS as POCKET_WORDS


def comb(t: Tools) -> WorkStep | None:
    """The sides, pockets, and what is left alone."""
    f, u = t.a.figures, t.u
    fit = f.roots
    if fit is None:
        return None
    sides = {"left": fit.off_left_mm, "right": fit.off_right_mm, "front": fit.off_front_mm, "back": fit.off_back_mm}
    off = {name: float(mm[0]) for name, mm in sides.items() if mm[0] > 0.5}
    lines = [f"{u.mm(mm)} off the {name}" for name, mm in off.items()]
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
    tool = "Rake and hook" if t.a.case.brief.root_views.tool == "rake" else "Comb with a chopstick"
    effort = work(f)
    minutes = None if effort is None else effort.comb + effort.wash
    clear = t.a.seat.clearance_mm
    if t.a.case.brief.root_views.old_soil == "wash":
        lines.append("Wash the rest of the old soil out.")
    title = f"{tool}, {u.mm(max(off.values()))} off the sides" if off else f"{tool} the outside"
    figure = u.figure(clear)
    return WorkStep(
        "comb", "comb", title, figure, f"{u.length} of fresh mix is to fit all round", tuple(lines), "comb", minutes=minutes,
        cautions=care(*sap(t.a)),
    )  # fmt: skip


def roots(t: Tools) -> WorkStep | None:
    """Roots of the map that go now."""
    a, u = t.a, t.u
    steps = steps_now(a.figures)
    if not steps:
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
        "roots", "roots", f"Cut {counted(len(steps), 'root')}", str(len(steps)), "roots by their numbers on the map", tuple(lines), "roots",
        minutes=None if effort is None else effort.roots, cautions=care("root_saw"),
    )  # fmt: skip


def bottom(t: Tools) -> WorkStep | None:
    """What comes off the bottom, by saw or comb."""
    f, u = t.a.figures, t.u
    fit = f.roots
    if fit is None or float(fit.off_bottom_mm[0]) <= 0.5:
        return None
    off, kept = float(fit.off_bottom_mm[0]), float(fit.kept_depth_mm[0])
    effort = work(f)
    if saw_allowed(f):
        area = sawn(f)[0]
        return WorkStep(
            "saw", "saw", f"Saw {u.mm(off)} off the bottom", u.figure(off), f"{u.length} off; {u.mm(kept)} stay",
            ("Lay the blade flat on two battens as high as what comes off.", f"{f'The cut is {area:.0f} cm²; thick' if area >= 1 else 'Thick'} roots clean, with shears."), "saw",
            minutes=None if effort is None else effort.saw, cautions=care("root_saw"),
        )  # fmt: skip
    return WorkStep(
        "saw", "below", f"Comb {u.mm(off)} off from below", u.figure(off), f"{u.length} off; {u.mm(kept)} stay", (f"{comb_words(f, 0)}. No flat saw cut.",),
        "saw", cautions=care("root_saw"),
    )  # fmt: skip


def try_it(t: Tools) -> WorkStep | None:
    """The trial fit."""
    a, u = t.a, t.u
    if a.figures.roots is None or not a.figures.plantable[0]:
        return None
    return WorkStep(
        "try", "try", "Try it in the pot", u.figure(abs(a.seat.raise_mm)), f"{u.length} {over_rim(a.seat.raise_mm)} is wanted for the top of the roots",
        (f"Set it on {u.mm(a.seat.floor_layer_mm)} of mix, measure from the rim to the top of the roots, and type the figure: below the rim with a minus.",), "try",
    )  # fmt: skip
