"""The place in the pot judged: the school's range, balance along the pot, the soil line by its named heights, the mound now and levelled."""

from dataclasses import dataclass, replace

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.figures import figures_for
from kesh.geometry.outline import Floats
from kesh.science.roots.side_room import least_side_rooms_mm
from kesh.science.stand.placement import (
    DESERT_UNDER_MM,
    GRAFT_OVER_MM,
    SIDE,
    TOP_ROOTS_UNDER_MM,
    Custom,
    Lever,
    balance_at,
    best_place,
    custom_range,
    wished_balance,
    years_of_dressing,
)

PLACES, LEAST_HEADSPACE_MM = 17, 6.0
# how far off the middle "only slightly" is, as a share of the length, and how near "dead centre" [J]
SLIGHT, DEAD = 0.05, 0.02


def custom_of(a: Assessment) -> Custom:
    """The range of the school, or of the grower's own view: in the middle while it is trained, or only a little off it."""
    pot, case = a.pot, a.case
    view = case.brief.planting_views.place
    found = custom_range(case.bands.tradition, case.tree.flow, pot.length_mm, pot.width_mm)
    if view == "school":
        return found
    side = -SIDE[case.tree.flow]
    if view == "centre":
        return Custom(-0.02 * pot.length_mm, 0.02 * pot.length_mm, found.y_low, found.y_high)
    one, two = 0.02 * side * pot.length_mm, SLIGHT * side * pot.length_mm
    return Custom(min(one, two), max(one, two), found.y_low, found.y_high)


def lever(a: Assessment) -> Lever | None:
    """Balance and side room as the trunk is moved from end to end; None while the tree cannot be drawn from its measures."""
    f, pot = a.figures, a.pot
    if f.tree_weight is None:
        return None
    half = pot.length_mm / 2 - pot.wall_mm
    custom = custom_of(a)
    x = np.unique(
        np.concatenate([np.linspace(-0.6 * half, 0.6 * half, PLACES), np.linspace(custom.x_low, custom.x_high, 9)])
    )
    balance = balance_at(x, f.tree_weight[1], pot.length_mm)
    wish = wished_balance(a.case.school.key, a.case.tree.flow)
    # what would have to be tried at every place waits until the hand rests
    room = None if a.case.hurry else _rooms(a, x)
    clear = a.seat.clearance_mm
    return Lever(x, balance, room, custom, wish, clear, best_place(x, balance, room, custom, wish, clear))


def _rooms(a: Assessment, x_mm: Floats) -> Floats | None:
    f, roots = a.figures, a.case.roots
    if roots is None or f.roots is None:
        return None
    seat = a.seat
    return least_side_rooms_mm(roots, f.pots, seat, f.roots, x_mm)


@dataclass(frozen=True)
class NamedHeight:
    """Something named at a height, against the surface the soil will have there: mm over it (+) or under it (-)."""

    name: str
    over_mm: float
    status: str
    asked: str


def surface_mm(a: Assessment) -> float:
    """How far soil and dressing together stand over the trunk's base, mm; less than nought: under it."""
    return a.case.soil_over_base_mm + (a.case.planting.dressing_mm if a.case.planting is not None else 0.0)


def soil_line(a: Assessment) -> tuple[NamedHeight, ...]:
    """Graft, top roots, aerial roots, foot and the rest against soil and dressing together, the highest first."""
    case, soil = a.case, surface_mm(a)
    desert = case.species is not None and case.species.group == "succulent"
    found = [NamedHeight("foot", -soil, "fits" if soil <= 15 else "watch", "level with the soil, or just under it")]
    m = case.tree.measure
    if m.graft_height_mm is not None:
        over = m.graft_height_mm - soil
        good = "fits" if over >= GRAFT_OVER_MM else "watch" if over > 0 else "no"
        found.append(NamedHeight("graft", over, good, f"{GRAFT_OVER_MM:.0f} mm over it at least"))
    show = case.brief.purpose.value == "show"
    for feature in case.tree.features:
        over = feature.height_mm - soil
        if feature.kind == "top_roots":
            most = DESERT_UNDER_MM if desert else TOP_ROOTS_UNDER_MM
            fine = over >= -DESERT_UNDER_MM if desert else (over >= -1 if show else -most - 0.5 <= over <= 0.5)
            asked = (
                f"no more than {most:.0f} mm under"
                if desert
                else "bare, for they are on show"
                if show
                else f"0 to {most:.0f} mm under it"
            )
            found.append(NamedHeight("top roots", over, "fits" if fine else "watch", asked))
        elif feature.kind == "aerial_root":
            found.append(NamedHeight("aerial root", over, "fits" if over <= 0 else "watch", "its tip in the soil"))
        elif feature.kind == "reverse_taper":
            found.append(
                NamedHeight(
                    "reverse taper", over, "fits" if over > 0 else "watch", "where it is seen, or under the soil"
                )
            )
        elif feature.kind == "wound":
            found.append(NamedHeight("wound", over, "fits" if over > 0 else "watch", "dry, over the soil"))
    return tuple(sorted(found, key=lambda h: -h.over_mm))


@dataclass(frozen=True)
class Levelled:
    """The same planting with the mound taken off: how much pot then shows, and what it costs in wet share and air."""

    mound_mm: float
    mound_l: float
    wet_share: tuple[float, float] | None
    wet_foot_h: tuple[float, float] | None


def levelled(a: Assessment) -> Levelled | None:
    """None without a mound."""
    f, planting = a.figures, a.case.planting
    if planting is None or planting.mound_mm <= 0:
        return None
    flat = figures_for(replace(a.case, planting=planting.changed(mound_mm=0.0)), [a.pot])
    share = foot = None
    if f.water is not None and flat.water is not None and f.plantable[0]:
        share = (float(f.water.wet_share[0]), float(flat.water.wet_share[0]))
    if f.wet_foot_h is not None and flat.wet_foot_h is not None:
        foot = (float(f.wet_foot_h[0]), float(flat.wet_foot_h[0]))
    return Levelled(planting.mound_mm, float(f.mound_l[0]), share, foot)


def dressing_years(a: Assessment) -> float | None:
    """Years that a yearly dressing has room for under the rim before the watering space is gone; None without one.

    The watering space asked for is what remains of it at the end: the default of 6 mm.
    """
    planting = a.case.planting
    if planting is None:
        return None
    over = a.case.headspace_mm - planting.dressing_mm
    return years_of_dressing(over, LEAST_HEADSPACE_MM, planting.dressing_mm_year)
