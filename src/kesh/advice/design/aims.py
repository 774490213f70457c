"""The two sides of the trade-off: how far a pot stands from what the school asks, and how much room roots and water have."""

from dataclasses import replace
from datetime import date

import numpy as np

from kesh.advice.case import Case, case_for, season_planned
from kesh.advice.design.special import planting_for
from kesh.advice.figures import Figures
from kesh.advice.rules.size import NO_MASS_RULE, wanted_outlines
from kesh.geometry.outline import Floats
from kesh.model import Collection, Pot
from kesh.science.looks.proportion import WantedBand

# weights of the parts of looks, judgement
WEIGHTS = {"depth": 1.0, "length": 1.0, "width": 0.5, "visual_mass": 0.7, "later": 0.4, "outline": 0.5}
WORDS_OF = {
    "rectangle": ("rectangle_soft", "rectangle_sharp"), "oval": ("oval",), "round": ("round", "rustic_round"), "lobed": ("mokko",),
    "polygon 6": ("hexagon",), "polygon 8": ("octagon",),
}  # fmt: skip


def _away(value: Floats, band: WantedBand) -> Floats | None:
    """0 in the middle of a band, 1 at its edges, further outside more."""
    if band.low is None or band.high is None:
        return None
    return np.asarray(np.abs(value - (band.low + band.high) / 2) / max((band.high - band.low) / 2, 1e-9))


def away_from_school(f: Figures) -> Floats:
    """Weighted root mean square over depth, length, width, visual mass, length at the horizon, and outline; (N,)."""
    case, pots = f.case, f.pots
    parts: list[tuple[float, Floats]] = []

    def add(name: str, value: Floats | None) -> None:
        if value is not None:
            parts.append((WEIGHTS[name], value))

    # what is not asked of this planting pulls at no design
    for name, value, band in (
        ("depth", pots.inner_depth, case.bands.depth),
        ("length", pots.length, case.bands.length),
        ("width", pots.width, case.bands.width),
    ):
        if f"{name}_band" not in case.off:
            add(name, _away(value, band))
    if f.visual_ratio is not None and case.tree.style not in NO_MASS_RULE and "visual_mass" not in case.off:
        add("visual_mass", _away(f.visual_ratio, case.bands.visual_mass))
    if "length_band" not in case.off:
        add("later", _away(pots.length, case.bands_ahead.length))
    add("outline", _outline(f))
    total = sum(weight for weight, _ in parts)
    square = sum((weight * value**2 for weight, value in parts), np.zeros(len(pots)))
    return np.asarray(np.sqrt(square / total)) if total else np.zeros(len(pots))


def _outline(f: Figures) -> Floats:
    wanted = wanted_outlines(f)
    cost = {}
    for kind, names in WORDS_OF.items():
        places = [wanted.index(n) for n in names if n in wanted]
        cost[kind] = 0.25 * min(places) if places else 1.2

    def key(pot: Pot) -> str:
        return f"polygon {pot.outline.sides}" if pot.outline.kind == "polygon" else pot.outline.kind

    return np.asarray(f.pots.each(lambda pot: cost.get(key(pot), 1.0)), float)


def joined_margin(rows: list[Floats], n: int) -> Floats:
    """Half the least margin and half the mean of all that count as horticulture, -1..1; 0 where nothing is known."""
    if not rows:
        return np.zeros(n)
    table = np.array(rows)
    return np.asarray(0.5 * table.min(axis=0) + 0.5 * table.mean(axis=0))


def at_centre(case: Case) -> Case:
    """The case as it would be planted anew: the trunk over the pot's middle, everything else as planned."""
    if case.planting is None:
        return replace(case, trials={})
    return replace(case, trials={}, planting=case.planting.changed(offset_x_mm=0.0, offset_y_mm=0.0))


def design_case(
    collection: Collection,
    tree_id: str,
    *,
    mix_id: str | None = None,
    school_id: str | None = None,
    season: str | None = None,
    today: date | None = None,
) -> Case:
    """The case a pot is designed and judged for: planted anew, in the season asked for or planned, else in its best one.

    A pot that is still to be made is not judged by the day on which it is drawn. Raises FieldError as `case_for` does.
    """
    meant = season_planned(collection, tree_id)
    planned = season or ("best" if meant == "next" else meant)
    planting = planting_for(collection, tree_id)
    on = (today or date.today()) if planting is not None else None
    case = case_for(
        collection, tree_id, mix_id=mix_id, school_id=school_id, season=planned, today=today, planting=planting, on=on
    )
    return at_centre(case)
