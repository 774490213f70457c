"""What must lie ready before the tree is lifted: cuts, soil to measure out, screens and wires, in words and figures."""

from kesh.advice.assess import Assessment
from kesh.advice.planting.cut_list import cuts_for
from kesh.advice.roots.this_year import SIDES, this_year
from kesh.advice.roots.work import foliage_with_it, pockets_for, standing_plan, steps_now
from kesh.advice.rules.roots import SAWN, comb_words, saw_allowed
from kesh.base.units import Units
from kesh.base.words import counted
from kesh.reference.notes import SIGNS
from kesh.science.roots.pockets import WORDS
from kesh.science.season.season import window_words
from kesh.science.stand.tie_hold import FITS_MARGIN


def cut_lines(a: Assessment, u: Units) -> tuple[str, ...]:
    """What comes off, how the seat balances, and the stages when one season is not enough."""
    f, roots, case = a.figures, a.case.roots, a.case
    if f.roots is None or roots is None:
        return ("Root mass not measured: lift the tree or probe along the wall before you decide.",)
    r, year = f.roots, this_year(f)
    assert year is not None
    off, spare = year.bottom_mm, float(r.spare_depth_mm[0])
    found = []
    if year.nothing:
        return ("Nothing is cut: only the pot changes.", *root_lines(a, u))
    if off > 0.5:
        if saw_allowed(f):
            depth = u.mm(roots.depth_mm - off)
            sawn = case.brief.root_views.amount in SAWN
            how = (
                f"saw height {depth} from the top of the roots"
                if sawn
                else f"with a hook from below; {depth} of root stay"
            )
            found.append(f"Lower by {u.mm(off)}: {how}.")
        else:
            name = case.species.common_name if case.species else "this tree"
            found.append(
                f"Lower by {u.mm(off)}, not with a saw: {name} does not usually bear a flat cut. {comb_words(f, 0)}."
            )
    elif spare > 0.5:
        found.append(
            f"Raise by {u.mm(spare)}: that much mix under the roots besides the layer of {u.mm(a.seat.base_mm)}."
        )
    else:
        found.append("The seat balances: nothing off the bottom, nothing to raise.")
    cuts = [f"{u.mm(mm)} {name}" for name, mm in zip(SIDES, year.sides_mm, strict=True) if mm > 0.5]
    clear = u.mm(case.seat.clearance_mm)
    found.append(
        f"Off the sides for {clear} of fresh mix: {', '.join(cuts)}."
        if cuts
        else f"{clear} of fresh mix fits all round."
    )
    share = year.share
    limit = "" if case.limit_share is None else f"; {case.limit_share:.0%} is suggested at most"
    found.append(f"{share:.0%} of the feeder roots{limit}.")
    if year.repottings > 1:
        found.append(
            f"The first of {year.repottings} repottings, about {case.care.interval_years:g} years apart; {year.whole_share:.0%} in all."
        )
    return (*found, *root_lines(a, u))


def root_lines(a: Assessment, u: Units, most: int = 6) -> tuple[str, ...]:
    """What is done to the roots now beside the cuts for the pot: roots of the map, pockets, sides left alone, leaf.

    Roots come round the clock, each with its cut; a plan that was kept speaks before today's reckoning.
    """
    f, tree = a.figures, a.case.tree
    number = {r.id: n + 1 for n, r in enumerate(tree.root_map)}
    by_id = {r.id: r for r in tree.root_map}
    told = []
    for step in sorted(steps_now(f), key=lambda s: number[s.root]):
        root = by_id[step.root]
        what = {
            "shorten": f"cut at {u.mm(step.at_mm or 0.0)}, beyond its side root", "move": "moved by hand", "remove": "off at the trunk",
        }[step.action]  # fmt: skip
        told.append(f"{number[root.id]} ({u.mm(root.diameter_mm)} at {root.azimuth_deg:.0f}°) {what}")
    found, kept = [], standing_plan(f)
    if told:
        rest = f"; {len(told) - most} more on the map" if len(told) > most else ""
        found.append(
            f"Roots, by their numbers on the map and clockwise from the front: {'; '.join(told[:most])}{rest}."
        )
    if kept is not None:
        when = f" on {kept.made:%-d %b %Y}" if kept.made else ""
        since = "" if kept.same else "; what is known has changed since: look at step 4 before you cut"
        found.append(f"The plan was kept{when}{since}.")
    pockets = [(p, p.year) for p in pockets_for(f)]
    out = [
        f"{WORDS[p.pocket.kind]}, {u.litres(p.part.volume_l)} at {p.pocket.middle_deg:.0f}°"
        for p, year in pockets
        if year == 0
    ]
    left = [f"{WORDS[p.pocket.kind]} at {p.pocket.middle_deg:.0f}°" for p, year in pockets if year > 0]
    if out:
        found.append(f"Rake out: {'; '.join(out)}.")
    if left:
        found.append(f"Left for next time: {'; '.join(left)}.")
    roots = tree.roots
    if roots is not None and roots.untouched:
        sides = [f"{s.why or 'a side'}, {s.from_deg:.0f}° to {s.to_deg:.0f}°" for s in roots.untouched]
        found.append(f"Do not touch: {'; '.join(sides)}.")
    foliage = foliage_with_it(f)
    if foliage is not None:
        found.append(f"In balance with it, about {foliage:.0%} of the foliage the same day.")
    return tuple(found)


def front_lines(a: Assessment) -> tuple[str, ...]:
    """Which side is the front, and where the marker in the soil stands; empty while nothing is known of either."""
    tree = a.case.tree
    found = [f"Front: {tree.front.rstrip('.')}."] if tree.front else []
    if tree.marker_deg is not None:
        at = round(tree.marker_deg) % 360
        side = "at the front" if at == 0 else f"{at}° clockwise from the front, seen from above"
        found.append(f"The marker in the soil stands {side}; set it anew before the old soil comes off.")
    return tuple(found)


def season_line(a: Assessment) -> str:
    """The sign to wait for, then the months."""
    species, site = a.case.species, a.case.site
    if species is None:
        return "Name the species to see its season."
    sign = SIGNS.get(species.repot_window)
    window = window_words(species, site, a.case.day, a.case.own)
    return f"Wait for the sign: {sign}. Window: {window}." if sign else f"Window: {window}."


def hardware_lines(a: Assessment, u: Units) -> tuple[str, ...]:
    """Screens, clips, ties and rods with cut lengths."""
    cuts = cuts_for(a)
    if cuts is None:
        return ("Screens and wires follow once the root mass is measured.",)
    found = [f"{n} × screen {u.figure(mm)} × {u.mm(mm)}" for mm, n in cuts.screen_sizes.items()]
    found += [f"{c.count} × clip wire 1.5 mm {u.mm(c.way.cut_mm)}" for c in cuts.clips]
    ties: dict[tuple[float, float, str], int] = {}
    for w in cuts.ties:
        key = (w.length_mm, w.gauge_mm, w.metal)
        ties[key] = ties.get(key, 0) + 1
    found += [f"{n} × tie wire {gauge:g} mm {metal} {u.mm(mm)}" for (mm, gauge, metal), n in ties.items()]
    found += [f"1 × bamboo rod {rod.diameter_mm:.0f} mm thick, {u.mm(rod.length_mm)}" for rod in cuts.rods]
    plan = cuts.plan
    if plan is not None and plan.stones:
        found.append(f"{len(plan.stones)} stones of {u.kg(plan.stones[0].mass_kg)} on the roots.")
    if (
        plan is not None
        and plan.hold is not None
        and plan.hold.margin is not None
        and plan.hold.margin.min() < FITS_MARGIN
    ):
        found.append("The load wants more or thicker wires than these.")
    found.append(f"Screen mesh {cuts.mesh_mm:g} mm.")
    if cuts.planned_drains:
        known = "has no drain hole" if a.pot.holes_known else "has holes nobody has entered"
        n = len(cuts.screens)
        found.append(
            f"The pot {known}: screens and clips are for {counted(n, 'hole')} laid out by rule, to be drilled first."
        )
    if cuts.planned_ties:
        found.append("The pot has no tie holes: the lengths are for holes laid out by rule.")
    return tuple(found)
