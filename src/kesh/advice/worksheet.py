"""What must lie ready before the tree is lifted: cuts, soil to measure out, screens and wires, in words and figures."""

from dataclasses import dataclass

from kesh.advice.assess import Assessment
from kesh.advice.report import cut_list
from kesh.advice.root_work import foliage_with_it, pockets_for, standing_plan, steps_now
from kesh.advice.rules_roots import comb_words, saw_allowed
from kesh.model.units import Units
from kesh.reference.notes import SIGNS
from kesh.science.pockets import WORDS
from kesh.science.root_fit import stages
from kesh.science.season import window_words

# Soil sinks when it is watered in, and some is spilled; both are growers' habit [J].
SETTLING, SCOOP_L = 0.10, 0.5


@dataclass(frozen=True)
class SoilLine:
    """One component to measure out, loose, with what settles and spills."""

    name: str
    litres: float

    @property
    def scoops(self) -> float:
        """Scoops of half a litre."""
        return self.litres / SCOOP_L


@dataclass(frozen=True)
class Soil:
    """The batch: net room for fresh mix, each component, and what it weighs dry."""

    net_l: float
    lines: tuple[SoilLine, ...]
    loss: float
    dry_kg: float

    @property
    def total_l(self) -> float:
        """Loose litres to measure out in all."""
        return sum(line.litres for line in self.lines)


def soil(a: Assessment) -> Soil | None:
    """The batch for one planting, or None without a mix or a pot that holds soil."""
    f, case = a.figures, a.case
    if case.blend is None or not f.plantable[0]:
        return None
    names = {key: case.tables.substrate(key) for key in f.components_l(0)}
    lines = tuple(
        SoilLine(
            f"{names[key].name}, {names[key].size_low_mm:g}–{names[key].size_high_mm:g} mm", litres * (1 + SETTLING)
        )
        for key, litres in f.components_l(0).items()
    )
    dry = sum(
        line.litres * row.dry_bulk_density_g_per_l / 1000 for line, row in zip(lines, names.values(), strict=True)
    )
    return Soil(float(f.fresh_soil_l[0]), lines, case.blend.volume_loss, dry)


def cut_lines(a: Assessment, u: Units) -> tuple[str, ...]:
    """What comes off, how the seat balances, and the stages when one season is not enough."""
    f, roots, case = a.figures, a.case.roots, a.case
    if f.roots is None or roots is None:
        return ("Root mass not measured: lift the tree or probe along the wall before you decide.",)
    r = f.roots
    off, spare = float(r.off_bottom_mm[0]), float(r.spare_depth_mm[0])
    found = []
    if off > 0.5:
        if saw_allowed(f):
            depth = u.mm(float(r.kept_depth_mm[0]))
            found.append(f"Lower by {u.mm(off)}: saw height {depth} from the top of the roots.")
        else:
            name = case.species.common_name if case.species else "this tree"
            found.append(
                f"Lower by {u.mm(off)}, not with a saw: {name} does not usually bear a flat cut. {comb_words(f, 0)}."
            )
    elif spare > 0.5:
        found.append(
            f"Raise by {u.mm(spare)}: that much mix under the roots besides the layer of {u.mm(case.seat.floor_layer_mm)}."
        )
    else:
        found.append("The seat balances: nothing off the bottom, nothing to raise.")
    sides = {"left": r.off_left_mm, "right": r.off_right_mm, "front": r.off_front_mm, "back": r.off_back_mm}
    cuts = [f"{u.mm(float(mm[0]))} {name}" for name, mm in sides.items() if mm[0] > 0.5]
    clear = u.mm(case.seat.clearance_mm)
    found.append(
        f"Off the sides for {clear} of fresh mix: {', '.join(cuts)}."
        if cuts
        else f"{clear} of fresh mix fits all round."
    )
    share = float(r.removed_feeder_share[0])
    limit = "" if case.limit_share is None else f"; {case.limit_share:.0%} is suggested at most"
    found.append(f"{share:.0%} of the feeder roots, {float(r.removed_volume_share[0]):.0%} of the root mass{limit}.")
    if case.limit_share is not None and share > case.limit_share > 0 and share < 1:
        plan = stages(share, case.limit_share, case.care.interval_years)
        found.append(
            f"In {len(plan)} repottings of {plan[0].removed_feeder_share:.0%} each, about {case.care.interval_years:g} years apart."
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
    window = window_words(species, site, a.case.day)
    return f"Wait for the sign: {sign}. Window: {window}." if sign else f"Window: {window}."


def hardware_lines(a: Assessment, u: Units) -> tuple[str, ...]:
    """Screens, clips and ties with cut lengths."""
    parts = cut_list(a)
    if parts is None:
        return ("Screens and wires follow once the root mass is measured.",)
    found = []
    for words, sizes in (
        ("Screen", parts.screens_mm),
        ("Clip wire 1.5 mm", parts.clip_wire_mm),
        ("Tie wire", parts.tie_wire_mm),
    ):
        counts: dict[float, int] = {}
        for mm in sizes:
            counts[round(mm)] = counts.get(round(mm), 0) + 1
        square = words == "Screen"
        found += [
            f"{n} × {words.lower()} {f'{u.figure(mm)} × {u.mm(mm)}' if square else u.mm(mm)}"
            for mm, n in counts.items()
        ]
    if parts.tie_gauge_mm is not None:
        found.append(f"Tie wire {parts.tie_gauge_mm:g} mm soft aluminium or thicker.")
    else:
        found.append("Ties: the load wants more wires than planned.")
    found.append(f"Screen mesh no wider than {u.mm(parts.mesh_opening_mm)}.")
    if parts.planned_drains:
        known = "has no drain hole" if a.pot.holes_known else "has holes nobody has entered"
        n = len(parts.screens_mm)
        found.append(
            f"The pot {known}: screens and clips are for {n} hole{'s' if n != 1 else ''} laid out by rule, to be drilled first."
        )
    if parts.planned_ties:
        found.append("The pot has no tie holes: the lengths are for holes laid out by rule.")
    return tuple(found)
