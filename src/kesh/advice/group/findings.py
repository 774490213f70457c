"""What is to be said of a group in its tray: lines, what hides what, fit, root room, ground, grading, growth."""

from collections.abc import Callable

import numpy as np

from kesh.advice.assess import Finding
from kesh.advice.group.plan import GroupPlan
from kesh.base.status import gravest_first
from kesh.base.units import Units
from kesh.science.group.hill import stands
from kesh.science.group.sight import FROM_DEG, free_turns, hidden_pairs
from kesh.science.group.stand import (
    DISC_SHARE,
    GRADE,
    PAIR_APART,
    PAIR_HEIGHT,
    PLUG_OVER_MESH_MM,
    grading,
    plug_room_mm,
)
from kesh.science.roots.heap import DRY_SLOPE_DEG, WET_SLOPE_DEG

LAYOUT = "docs/methods.md, forest layout score"
GROUPS = "docs/methods.md, groups"
LEAST_ROOM_L = 0.15
FROM_WORDS = {0.0: "From the front", -30.0: "From 30° left", 30.0: "From 30° right"}
SOON_YEARS = 3.0


def names(plan: GroupPlan, rows: tuple[int, ...]) -> str:
    """1, 4 and 7."""
    found = [plan.rows[r].id for r in rows]
    return found[0] if len(found) == 1 else f"{', '.join(found[:-1])} and {found[-1]}"


def years_words(years: float) -> str:
    """A year, 3 years, half a year."""
    return "half a year" if years < 0.75 else "a year" if years < 1.5 else f"{years:.0f} years"


def _made(code: str, status: str, text: str, remedy: str = "", value: float | None = None, unit: str = "", low: float | None = None, high: float | None = None, source: str = GROUPS) -> Finding:  # fmt: skip
    return Finding(code, status, value, unit, low, high, text, remedy, source, "looks", text.rstrip("."))


def group_findings(plan: GroupPlan, u: Units) -> tuple[Finding, ...]:
    """Gravest first; a group nobody has entered yet has one finding that says how to."""
    if not plan.tree.group:
        return (
            _made("group", "unknown", "The trees of this group are not entered yet.", "Add them with thickness and height, or read them from a photograph."),
        )  # fmt: skip
    checks: tuple[Callable[[], list[Finding]], ...] = (
        lambda: _unmeasured(plan), lambda: _lines(plan, u), lambda: _hidden(plan, u), lambda: _fit(plan, u), lambda: _pair(plan, u),
        lambda: _room(plan, u), lambda: _count(plan), lambda: _ground(plan), lambda: _plugs(plan, u), lambda: _heights(plan, u),
        lambda: _grades(plan), lambda: _meet(plan), lambda: _survivors(plan), lambda: _way(plan, u),
    )  # fmt: skip
    return gravest_first(f for check in checks for f in check())


def _unmeasured(plan: GroupPlan) -> list[Finding]:
    found = []
    if plan.unmeasured:
        who = ", ".join(g.id for g in plan.unmeasured)
        found.append(
            _made(
                "group_thickness",
                "unknown",
                f"Thickness of {who} is not known; they are left out of the check.",
                "Take a calliper to each, a finger's breadth above the soil.",
            )
        )
    flat = [g.id for g in plan.rows if g.height_mm is None]
    if flat:
        found.append(
            _made(
                "group_height",
                "unknown",
                f"Height of {', '.join(flat)} is not known; the front shows it by its thickness.",
                "Measure from the soil to the tip.",
            )
        )
    if len(plan.rows) < 2 and not plan.unmeasured:
        found.append(
            _made(
                "group",
                "unknown",
                f"{len(plan.rows)} of {len(plan.tree.group)} trees stand in the tray; the layout check wants three.",
                "Drag the spares into the plan.",
            )
        )
    return found  # fmt: skip


def _lines(plan: GroupPlan, u: Units) -> list[Finding]:
    if plan.check is None:
        return []
    found = []
    for t in plan.check.in_line:
        text = f"{names(plan, t.rows)} stand in one line: {t.middle} is {u.mm(t.off_mm)} off it, {u.mm(t.asked_mm)} asked, a twentieth of its length."
        found.append(
            _made(
                "group_line",
                "watch",
                text,
                f"Move {t.middle} across that line.",
                t.off_mm,
                "mm",
                t.asked_mm,
                source=LAYOUT,
            )
        )
    return found or [_made("group_line", "fits", "No three trees stand in one line.", source=LAYOUT)]  # fmt: skip


def _hidden(plan: GroupPlan, u: Units) -> list[Finding]:
    found = []
    turns = {one.from_deg: free_turns(plan.x, plan.y, plan.d, one.from_deg) for one in plan.hidden}
    for one in plan.hidden:
        near, far = plan.rows[one.near].id, plan.rows[one.far].id
        turn = turns[one.from_deg]
        if turn is not None and any(hidden_pairs(plan.x, plan.y, plan.d, side + turn) for side in FROM_DEG):
            # what it frees on this side it would hide on another
            turn = None
        mend = f"Move {far} aside by {u.mm(np.ceil(one.overlap_mm))}."
        if turn is not None:
            mend = f"{mend[:-1]}, or turn the tray {abs(turn):.0f}° {'with' if turn > 0 else 'against'} the clock, seen from above."
        text = f"{FROM_WORDS[one.from_deg]} {near} hides {far}: they overlap by {u.mm(one.overlap_mm)}, half a trunk is borne."
        found.append(_made("group_hidden", "watch", text, mend, one.overlap_mm, "mm", None, plan.d[one.far] / 2))
    return found  # fmt: skip


def _fit(plan: GroupPlan, u: Units) -> list[Finding]:
    found = []
    disc = plan.disc
    out = disc - plan.tray.inside_mm(plan.x, plan.y)
    for r in np.flatnonzero(out > 1e-9):
        gone = bool(plan.tray.inside_mm(plan.x[r], plan.y[r]) < 0)
        text = (
            f"{plan.rows[r].id} stands outside the tray."
            if gone
            else f"The roots of {plan.rows[r].id} want {u.mm(float(out[r]))} more to the wall."
        )
        found.append(
            _made(
                "group_fit",
                "no" if gone else "watch",
                text,
                "Move it inwards, or take a larger tray.",
                float(out[r]),
                "mm",
                None,
                0.0,
                LAYOUT,
            )
        )
    for a in range(len(plan.rows)):
        for b in range(a + 1, len(plan.rows)):
            lack = float(disc[a] + disc[b] - np.hypot(plan.x[a] - plan.x[b], plan.y[a] - plan.y[b]))
            if lack > 1e-9:
                one = plan.rows[a].id, plan.rows[b].id
                found.append(
                    _made(
                        "group_fit",
                        "watch",
                        f"The roots of {one[0]} and {one[1]} overlap by {u.mm(lack)}.",
                        "Move them apart, or let them grow together as a clump.",
                        lack,
                        "mm",
                        None,
                        0.0,
                        LAYOUT,
                    )
                )
    return found  # fmt: skip


def _pair(plan: GroupPlan, u: Units) -> list[Finding]:
    p = plan.pair
    if p is None:
        return []
    found = []
    if p.height_ratio is not None:
        low, high = PAIR_HEIGHT
        status = "fits" if low <= p.height_ratio <= high else "watch"
        remedy = (
            ""
            if status == "fits"
            else "Shorten or let grow the smaller one: two of a height compete."
            if p.height_ratio > high
            else "Let the smaller one grow."
        )
        found.append(
            _made(
                "pair_height",
                status,
                f"The smaller trunk is {p.height_ratio:.0%} of the taller; custom asks {low:.0%} to {high:.0%}.",
                remedy,
                p.height_ratio,
                "",
                low,
                high,
            )
        )
    low, high = PAIR_APART
    status = "fits" if low <= p.apart_share <= high else "watch"
    text = f"They stand {u.mm(p.apart_mm)} apart, {p.apart_share:.1f} times the thicker trunk; {low:g} to {high:g} read as a pair."
    found.append(
        _made(
            "pair_apart",
            status,
            text,
            "" if status == "fits" else "Set them closer." if p.apart_share > high else "Set them wider.",
            p.apart_share,
            "",
            low,
            high,
        )
    )
    if p.hidden_front:
        found.append(
            _made(
                "pair_front",
                "watch",
                "From the front one trunk hides the other.",
                "Set the smaller one to the side and a little behind.",
            )
        )
    if p.hidden_back:
        found.append(
            _made("pair_back", "watch", "From the back one trunk hides the other.", "Turn the pair a few degrees.")
        )
    if not p.smaller_behind:
        found.append(
            _made(
                "pair_depth",
                "watch",
                "The smaller trunk stands in front; behind it would give depth.",
                "Set it a little to the back. Some schools set it in front on purpose.",
            )
        )
    return found  # fmt: skip


def _room(plan: GroupPlan, u: Units) -> list[Finding]:
    if not len(plan.rows):
        return []
    least = int(plan.room_l.argmin())
    value = float(plan.room_l[least])
    status = "fits" if value >= LEAST_ROOM_L else "watch"
    text = f"Least root room: {u.litres(value)} for {plan.rows[least].id}; {u.litres(LEAST_ROOM_L)} asked."
    return [_made("group_room", status, text, "" if status == "fits" else "Give it more ground, or plant fewer.", value, "l", LEAST_ROOM_L)]  # fmt: skip


def _count(plan: GroupPlan) -> list[Finding]:
    n, most = len(plan.rows), plan.advised
    if n < 3 or most is None:
        return []
    share = plan.disc_share
    if share > DISC_SHARE:
        return [
            _made(
                "group_count",
                "watch",
                f"Root discs take {share:.0%} of the tray; {DISC_SHARE:.0%} are borne, {most} trees of this size.",
                "Take some out, or a larger tray.",
                share,
                "",
                None,
                DISC_SHARE,
            )
        ]
    odd = "" if n % 2 or n >= 11 else " An odd number reads better below eleven, by custom."
    return [_made("group_count", "watch" if odd else "fits", f"{n} trees take {share:.0%} of the tray; it bears {most} of this size.{odd}", "Set one more or one less." if odd else "", share, "", None, DISC_SHARE)]  # fmt: skip


def _ground(plan: GroupPlan) -> list[Finding]:
    if not plan.mounds:
        return []
    slope = plan.slope_deg
    status = stands(slope)
    text = {
        "fits": f"The ground rises by {slope:.0f}° at most; dry grains stand up to {DRY_SLOPE_DEG:.0f}°.",
        "watch": f"The ground rises by {slope:.0f}°: dry grains slide from {DRY_SLOPE_DEG:.0f}° on.",
        "no": f"The ground rises by {slope:.0f}°: even wetted fines slide from {WET_SLOPE_DEG:.0f}° on.",
    }[status]
    remedy = {
        "fits": "",
        "watch": "Wet the mix for the mound and take a share of fines and clay; moss it at once.",
        "no": "Lower the mound, widen it, or hold it with a ring of clay mud and moss.",
    }[status]
    return [_made("group_slope", status, text, remedy, slope, "deg", None, DRY_SLOPE_DEG)]  # fmt: skip


def _plugs(plan: GroupPlan, u: Units) -> list[Finding]:
    found = []
    for r, g in enumerate(plan.rows):
        if g.plug_mm is None:
            continue
        room = plug_room_mm(plan.soil_mm, float(plan.seat_mm[r]), g.plug_mm)
        if room < PLUG_OVER_MESH_MM:
            text = f"The plug of {g.id} stands {u.mm(max(room, 0.0))} over the mesh; {u.mm(PLUG_OVER_MESH_MM)} asked, else its roots grow into it."
            found.append(
                _made(
                    "group_mesh",
                    "watch",
                    text,
                    "Raise the ground there, or shorten the plug.",
                    room,
                    "mm",
                    PLUG_OVER_MESH_MM,
                )
            )
    return found  # fmt: skip


def _heights(plan: GroupPlan, u: Units) -> list[Finding]:
    asked = plan.expected_mm
    if asked is None:
        return []
    over = np.where(np.isnan(plan.h), 0.0, plan.h - asked)
    main = plan.trunks.main if plan.trunks is not None else -1
    rows = [r for r in np.flatnonzero(over > 1.0) if r != main]
    if not rows:
        return [_made("group_heights", "fits", "Heights fall towards the back and away from the main tree.")]
    r = max(rows, key=lambda k: over[k])
    text = f"{plan.rows[r].id} is {u.mm(float(plan.h[r]))} tall; so far back {u.mm(float(asked[r]))} keep the depth."
    return [_made("group_heights", "watch", text, f"Shorten it by {u.mm(float(over[r]))}, or set it farther forward.", float(plan.h[r]), "mm", None, float(asked[r]))]  # fmt: skip


def _grades(plan: GroupPlan) -> list[Finding]:
    if len(plan.rows) < 3:
        return []
    low, high = GRADE
    off = [(r, share) for r, share in grading(plan.d) if not low <= share <= high]
    if not off:
        return [_made("group_grades", "fits", f"Each trunk is {low:g} to {high:g} of the next thicker one.")]
    r, share = (
        min(off, key=lambda pair: pair[1]) if any(s < low for _, s in off) else max(off, key=lambda pair: pair[1])
    )
    text = f"{plan.rows[r].id} is {share:.2f} of the next thicker trunk; {low:g} to {high:g} read as graded."
    return [_made("group_grades", "watch", text, "A trunk between them closes the gap." if share < low else "Let one of the two grow on.", share, "", low, high)]  # fmt: skip


def _meet(plan: GroupPlan) -> list[Finding]:
    years, who = plan.meet
    if years is None or who is None or years == 0.0:
        return []
    one, other = (plan.rows[r].id for r in who)
    status = "watch" if years < SOON_YEARS else "fits"
    return [_made("group_meet", status, f"Roots of {one} and {other} meet first, in about {years_words(years)}.", "Plan to lift the group by then." if status == "watch" else "", years, "years", SOON_YEARS)]  # fmt: skip


def _survivors(plan: GroupPlan) -> list[Finding]:
    living, of, chance = plan.survival
    if living == of or chance is None:
        return []
    return [_made("group_survivors", "watch", f"{living} of {of} live; of ten more {10 * chance.low:.0f} to {10 * chance.high:.0f} would by that count.", "Keep spares at hand." if plan.spares else "Raise spares of the same stock.", living / of, "", None, None)]  # fmt: skip


def _way(plan: GroupPlan, u: Units) -> list[Finding]:
    way = plan.tree.way
    if way is None or not len(plan.rows):
        return []
    import shapely

    line = shapely.LineString(way.points_mm)
    free = shapely.distance(line, shapely.points(plan.x, plan.y)) - plan.d / 2 - way.width_mm / 2
    r = int(free.argmin())
    if free[r] < 0:
        return [
            _made(
                "group_way",
                "watch",
                f"{plan.rows[r].id} stands {u.mm(float(-free[r]))} in the path.",
                "Move it, or lead the path round it.",
                float(free[r]),
                "mm",
                0.0,
            )
        ]
    return [_made("group_way", "fits", f"The path is clear; {plan.rows[r].id} is nearest, {u.mm(float(free[r]))} from it.", "", float(free[r]), "mm", 0.0)]  # fmt: skip
