"""What is to be said of how a tree is placed, held and filled: findings beside those of tree and pot."""

from collections.abc import Callable
from itertools import pairwise

import numpy as np

from kesh.advice.assess import Assessment, Finding
from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.placing import DEAD, dressing_years, levelled, soil_line, surface_mm
from kesh.advice.planting.rehearsal import Ready
from kesh.advice.planting.tie_plan import TiePlan, least_gauge_mm
from kesh.base.status import gravest_first
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.science.stand.placement import Lever
from kesh.science.stand.stability import G
from kesh.science.stand.tie_hold import FITS_MARGIN, WIDEST_GAP_DEG

SIDES = ("the front", "the left", "the back", "the right")
# a shove with the elbow at the apex [J]
KNOCK_N = 20.0


def side_words(azimuth_deg: float) -> str:
    """Where an azimuth clockwise from the front lies, in words."""
    near = round(azimuth_deg / 45) % 8
    if near % 2 == 0:
        return SIDES[near // 2]
    one, two = SIDES[near // 2], SIDES[(near // 2 + 1) % 4]
    first, second = (one, two) if one in ("the front", "the back") else (two, one)
    return f"{first} {second.removeprefix('the ')}"


def planting_findings(
    a: Assessment, plan: TiePlan | None, lever: Lever | None, cuts: CutList | None, room_mm: Floats | None,
    ready: tuple[Ready, ...], u: Units,
) -> tuple[Finding, ...]:  # fmt: skip
    """Ties first, then place, soil line, mound, dressing and what is missing; those that do not apply are left out."""
    checks: tuple[Callable[[], Finding | None], ...] = (
        lambda: _hold(a, plan),
        lambda: _wire(a, plan),
        lambda: _protected(a, plan),
        lambda: _shown(a, plan, u),
        lambda: _guys(plan),
        lambda: _holes(cuts),
        lambda: _balance(a, lever, u),
        lambda: _room(a, room_mm, u),
        lambda: _heights(a, u),
        lambda: _mound(a, u),
        lambda: _dressing(a, u),
        lambda: _missing(ready, u),
    )
    return gravest_first(f for check in checks if (f := check()) is not None)


def _hold(a: Assessment, plan: TiePlan | None) -> Finding | None:
    if plan is None or plan.hold is None or plan.hold.margin is None or plan.hold.margin_untied is None:
        own = a.case.planting.ties if a.case.planting is not None else ()
        if plan is None and own and a.figures.root_base is not None:
            return Finding(
                "tie_hold", "no", None, "N", None, None, "A wire lies on the floor and holds nothing, so the hold is not reckoned.",
                "Lay the wires out by rule, or take that one away.", "statics", "handling", "a wire on the floor",
            )  # fmt: skip
        return Finding(
            "tie_hold", "unknown", None, "N", None, None, "How firmly it is held is not reckoned: root mass, height, trunk or reach is missing.",
            "Enter them in step 1.", "statics", "handling", "hold unknown",
        )  # fmt: skip
    held, at = plan.hold, plan.hold.weakest
    assert held.margin is not None
    assert held.margin_untied is not None
    margin = float(held.margin.min())
    force, asks = float(held.rose_n[at]), float(held.rose_n[at] / max(held.margin[at], 1e-9))
    gale = f"{plan.gust_m_s:.0f} m/s" + ("" if plan.gust_known else ", assumed,")
    side = side_words(held.weakest_deg)
    text = f"Wind from {side}: {force:.0f} newton, a pull of {force / G:.1f} kg, hold at the apex; a gust of {gale} asks {asks:.0f}, {FITS_MARGIN * asks:.0f} with the usual margin."
    least = float(held.rose_n.min())
    text += f" A knock of {KNOCK_N:.0f} N {'does not shift it' if least >= KNOCK_N else f'shifts it: {least:.0f} N is the least it bears'}."
    loose = plan.untied_margin or 0.0
    bare = f" Untied {'it stands' if loose >= 1 else 'its roots lift'} in that gust; they lift from {plan.gone_at_m_s or 0:.0f} m/s."
    remedy = ""
    wide = held.widest_gap_deg > WIDEST_GAP_DEG
    status = plan.status
    if plan.anchors == "none":
        text += bare
        remedy = "" if status == "fits" else "Tie it, or shelter it until roots hold."
    elif status != "fits":
        remedy = (
            f"The pulls leave {held.widest_gap_deg:.0f}° open; turn a pair of wires across it."
            if wide and margin >= FITS_MARGIN
            else "Thicker wire, one more wire from that side, or rods over the roots."
        )
        text += bare
    short = f"{force:.0f} N of {FITS_MARGIN * asks:.0f}"
    return Finding(
        "tie_hold",
        status,
        round(force, 1),
        "N",
        round(FITS_MARGIN * asks, 1),
        None,
        text,
        remedy,
        "statics",
        "handling",
        short,
    )


def _wire(a: Assessment, plan: TiePlan | None) -> Finding | None:
    """Both sides of how thick a tie is at least: 2 mm for all, 3 mm for what is heavy."""
    if plan is None or not plan.wires:
        return None
    least = least_gauge_mm(a)
    thin = (
        min(w.gauge_mm for w in plan.wires if w.metal == "aluminium")
        if any(w.metal == "aluminium" for w in plan.wires)
        else None
    )
    if thin is None:
        return None
    who = "growers who tie heavy trees in 3 mm" if least == 3 else "growers who tie in 2 mm at least"
    if thin >= least:
        return Finding(
            "tie_wire",
            "fits",
            thin,
            "mm",
            least,
            None,
            f"Wire of {thin:g} mm: {who} would take it.",
            "",
            "custom",
            "handling",
            f"{thin:g} mm wire",
        )
    return Finding(
        "tie_wire", "watch", thin, "mm", least, None, f"Wire of {thin:g} mm holds by the figures; {who} would not take it.",
        f"Take {least:g} mm: it cuts in less and forgives a bad twist.", "custom", "handling", f"{thin:g} mm wire",
    )  # fmt: skip


def _protected(a: Assessment, plan: TiePlan | None) -> Finding | None:
    roots, base = a.case.roots, a.figures.root_base
    if (
        plan is None
        or roots is None
        or base is None
        or not roots.untouched
        or plan.anchors not in ("ties", "rods", "raft")
    ):
        return None
    turn = a.case.planting.turn_deg if a.case.planting is not None else 0.0
    pressed = []
    for w in plan.wires:
        line = np.array(w.over)[:, :2]
        if len(line) < 2 or w.pad:
            continue
        share = np.linspace(0, 1, 61)[:, None]
        runs = np.concatenate([one + (two - one) * share for one, two in pairwise(line)])
        off = runs - np.array(base.trunk_mm)
        azimuth = (np.degrees(np.arctan2(-off[:, 0], -off[:, 1])) + turn) % 360
        inside = np.zeros(len(runs), bool)
        for s in roots.untouched:
            inside |= (azimuth - s.from_deg) % 360 <= (s.to_deg - s.from_deg) % 360
        mm = float(inside.mean() * np.linalg.norm(np.diff(line, axis=0), axis=1).sum())
        if mm > 5:
            pressed.append((w.id, mm))
    if not pressed:
        return Finding(
            "tie_sector",
            "fits",
            0.0,
            "mm",
            None,
            0.0,
            "No wire presses on the side that is left alone.",
            "",
            "root map",
            "root_fit",
            "sector free",
        )
    name, mm = max(pressed, key=lambda p: p[1])
    return Finding(
        "tie_sector", "watch", round(mm), "mm", None, 0.0, f"Wire {name} presses {mm:.0f} mm of the side that is left alone; none is asked.",
        "Lay it on a pad, or lead it past.", "root map", "root_fit", "wire on a sector",
    )  # fmt: skip


def _shown(a: Assessment, plan: TiePlan | None, u: Units) -> Finding | None:
    """How much wire lies in sight over the roots when the soil is on: what stands over the surface and behind no root."""
    base = a.figures.root_base
    if plan is None or base is None or not plan.wires or plan.anchors == "guys":
        return None
    bare = [w for w in plan.wires if w.behind is None]
    surface = surface_mm(a)
    mm = (
        0.0
        if surface > 3
        else sum(float(np.linalg.norm(np.diff(np.array(w.over), axis=0), axis=1).sum()) for w in bare)
    )
    if mm < 20:
        return Finding(
            "tie_shown",
            "fits",
            round(mm),
            "mm",
            None,
            20.0,
            "No wire shows once it is filled.",
            "",
            "geometry",
            "looks",
            "no wire shows",
        )
    return Finding(
        "tie_shown", "watch", round(mm), "mm", None, 20.0, f"{u.mm(mm)} of wire show over the roots.",
        "Lead it behind a root, or cover it with moss until it comes off.", "geometry", "looks", "wire shows",
    )  # fmt: skip


def _guys(plan: TiePlan | None) -> Finding | None:
    if plan is None or plan.anchors != "guys" or plan.hold is None:
        return None
    gap = plan.hold.widest_gap_deg
    good = len(plan.wires) >= 3 and gap <= WIDEST_GAP_DEG
    return Finding(
        "guys", "fits" if good else "watch", round(gap), "deg", None, WIDEST_GAP_DEG, f"{len(plan.wires)} guys leave {gap:.0f}° open between two pulls.",
        "" if good else "Three guys, none more than 150° from the next.", "statics", "handling", f"{len(plan.wires)} guys",
    )  # fmt: skip


def _holes(cuts: CutList | None) -> Finding | None:
    if cuts is None or not cuts.planned_ties:
        return None
    return Finding(
        "tie_holes", "watch", None, "", None, None, "The pot has no tie holes; the wires are reckoned for holes laid out by rule.",
        "Drill them first: Workshop, Drill. Or lay rods, a raft or guys.", "hole plan", "handling", "tie holes to drill",
    )  # fmt: skip


def _balance(a: Assessment, lever: Lever | None, u: Units) -> Finding | None:
    b = a.figures.balance
    if lever is None or b is None:
        return None
    value, (low, high) = float(b[0]), lever.wish
    who = f"{a.case.school.name} school"
    x, y = a.seat.x_mm, a.seat.y_mm
    dead = abs(x) <= DEAD * a.pot.length_mm and abs(y) <= DEAD * a.pot.width_mm
    inside = lever.custom.holds(x, y)
    where = (
        "inside the school's range"
        if inside
        else f"outside the range of {u.figure(lever.custom.x_low)} to {u.figure(lever.custom.x_high)} along and {u.figure(lever.custom.y_low)} to {u.figure(lever.custom.y_high)} back"
    )
    text = f"The trunk stands {where}; its weight lies {abs(value):.0%} of half the length {'right' if value > 0 else 'left'} of the middle, {low:+.0%} to {high:+.0%} is the wish."
    remedy = ""
    good = inside and low - 0.02 <= value <= high + 0.02
    if not good and lever.best_mm is not None and abs(lever.best_mm - x) > 1:
        remedy = f"{u.mm(abs(lever.best_mm))} {'right' if lever.best_mm > 0 else 'left'} of the middle comes nearest to both."
    elif lever.best_mm is None:
        remedy = "No place of the range keeps the side room; a hand-placed trunk stands."
    if dead and a.case.brief.planting_views.place == "school" and a.case.tree.flow != "none":
        text = f"Dead centre: {text[0].lower()}{text[1:]}"
    return Finding(
        "place",
        "fits" if good else "watch",
        round(value, 3),
        "share",
        low,
        high,
        text,
        remedy,
        who,
        "looks",
        f"balance {value:+.0%}",
    )


def _room(a: Assessment, room: Floats | None, u: Units) -> Finding | None:
    if room is None:
        return None
    least, at = float(room.min()), 10.0 * int(np.argmin(room))
    clear = a.seat.clearance_mm
    good = least >= clear - 0.5
    return Finding(
        "side_room", "fits" if good else "watch", round(least, 1), "mm", clear, None, f"{u.mm(least)} of room toward {side_words(at)}, {u.mm(clear)} asked all round.",
        "" if good else "Move the trunk away from that side, or trim there.", "geometry", "root_fit", f"{u.mm(least)} of room",
    )  # fmt: skip


def _heights(a: Assessment, u: Units) -> Finding | None:
    named = [h for h in soil_line(a) if h.name != "foot"]
    bad = [h for h in named if h.status != "fits"]
    if not named:
        return None
    told = "; ".join(
        f"{h.name} {u.mm(abs(h.over_mm))} {'over' if h.over_mm >= 0 else 'under'} the soil ({h.asked})"
        for h in (bad or named)
    )
    worst = "no" if any(h.status == "no" for h in bad) else "watch" if bad else "fits"
    remedy = "" if not bad else "Raise or lower the tree, or the soil, until each stands where it should."
    return Finding(
        "named_heights",
        worst,
        None,
        "mm",
        None,
        None,
        f"{told[0].upper()}{told[1:]}.",
        remedy,
        "custom",
        "root_fit",
        f"{len(bad)} heights off" if bad else "heights fit",
    )


def _mound(a: Assessment, u: Units) -> Finding | None:
    flat = levelled(a)
    if flat is None:
        return None
    cost = ""
    if flat.wet_share is not None:
        cost = f" Levelled, {flat.wet_share[1]:.0%} of the soil stays wet instead of {flat.wet_share[0]:.0%}"
        if flat.wet_foot_h is not None and max(flat.wet_foot_h) < 1e4:
            cost += f", the foot {flat.wet_foot_h[1]:.0f} h instead of {flat.wet_foot_h[0]:.0f}"
        cost += "."
    level = a.case.brief.planting_views.mound == "level"
    text = f"A mound of {u.mm(flat.mound_mm)} holds {u.litres(flat.mound_l)}.{cost}"
    remedy = "You want it level: lower it in steps, the looks come first." if level else ""
    return Finding(
        "mound_level",
        "watch" if level else "fits",
        round(flat.mound_mm, 1),
        "mm",
        None,
        None,
        text,
        remedy,
        "drainage model",
        "water",
        "mound",
    )


def _dressing(a: Assessment, u: Units) -> Finding | None:
    years = dressing_years(a)
    if years is None:
        return None
    status = "fits" if years >= 3 else "watch"
    return Finding(
        "dressing", status, round(years, 1), "years", 3.0, None, f"A yearly dressing has room for {years:.0f} years before the watering space is gone.",
        "" if status == "fits" else "Lower the soil line, or dress less.", "height budget", "root_fit", f"{years:.0f} years of dressing",
    )  # fmt: skip


def _missing(ready: tuple[Ready, ...], u: Units) -> Finding | None:
    said = [r for r in ready if r.have is not None and r.need is not None]
    short = [r for r in said if r.status != "fits"]
    if not said:
        return None
    if not short:
        return Finding(
            "stock",
            "fits",
            None,
            "",
            None,
            None,
            "All that is counted lies ready.",
            "",
            "stock",
            "handling",
            "all ready",
        )
    told = "; ".join(r.short_words for r in short[:4])
    more = f"; {len(short) - 4} more" if len(short) > 4 else ""
    if all(r.status == "watch" for r in short):
        return Finding(
            "stock", "watch", float(len(short)), "", None, 0.0,
            f"Just enough before you lift: {told}{more}; what sinks into the roots varies by more than that.",
            "Lay a few handfuls more ready.", "stock", "handling", "just enough",
        )  # fmt: skip
    return Finding(
        "stock",
        "no",
        float(len(short)),
        "",
        None,
        0.0,
        f"Missing before you lift: {told}{more}.",
        "Get it first: bare roots do not wait.",
        "stock",
        "handling",
        f"{len(short)} missing",
    )
