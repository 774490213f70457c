"""How full of roots each pot is now, for many trees at once."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

import numpy as np

from kesh.advice.case import HEADSPACE_MM
from kesh.geometry.columns import columns
from kesh.geometry.sound import faulty
from kesh.geometry.volume import body, inner_volume_l
from kesh.model import Collection, Event, Planting, Pot, RootMass, Tree
from kesh.reference.tables import Species, care_classes
from kesh.science.roots.filling import BOUND, SLOW_SECONDS, Filling, filling, filling_rate, first_filling
from kesh.science.roots.fit import ball_ring, roots_fault
from kesh.science.stand.stability import crown_area_m2

# what is taken to have been left in the pot where nobody wrote it down, a share of the soil
KEPT_SHARE = 0.5


@dataclass(frozen=True)
class Standing:
    """A tree in its pot: since when, how much soil, how full it is along time, and what of it is only assumed."""

    planting: Planting
    pot: Pot
    last: date | None
    soil_l: float | None
    filling: Filling | None
    assumed: str = ""


def last_repotted(planting: Planting, log: tuple[Event, ...], today: date) -> date | None:
    """The later of the planting's own day and the last repotting in the log; days to come do not count."""
    days = [e.date for e in log if e.kind == "repotted" and e.date <= today]
    if planting.date is not None and planting.date <= today:
        days.append(planting.date)
    return max(days, default=None)


def root_volume_l(roots: RootMass) -> float:
    """Volume of a root mass that narrows downwards by its taper."""
    ring = ball_ring(roots)
    x, y = ring[:, 0], ring[:, 1]
    area = abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2
    t = roots.taper
    return area * roots.depth_mm * (1 - t + t * t / 3) / 1e6


def soils_l(plantings: list[tuple[Planting, Pot]]) -> list[float | None]:
    """Litres to the soil line of each pot; None where a pot cannot be reckoned."""
    if not plantings:
        return []
    pots = columns(tuple(pot for _, pot in plantings))
    bad = faulty(pots)
    head = np.array([HEADSPACE_MM if p.headspace_mm is None else p.headspace_mm for p, _ in plantings])
    depth = np.maximum(pots.inner_depth - head, 0.0)
    with np.errstate(all="ignore"):
        litres = inner_volume_l(pots, np.where(bad, 0.0, depth)) * body(pots).volume_factor
    return [None if b or not np.isfinite(v) or v <= 0 else float(v) for b, v in zip(bad, litres, strict=True)]


def standings(
    c: Collection, now: Mapping[str, Planting], species: Mapping[str, Species], today: date
) -> dict[str, Standing]:
    """Every tree that stands in a pot, by its id."""
    rows = [(t, p, c.pots[p.pot]) for t, p in now.items() if p.pot in c.pots and t in c.trees]
    litres = soils_l([(p, pot) for _, p, pot in rows])
    found = {}
    for (key, planting, pot), soil in zip(rows, litres, strict=True):
        tree = c.trees[key]
        last = last_repotted(planting, c.events_of(key), today)
        kind = species.get(tree.species) if tree.species else None
        full, assumed = (None, "") if soil is None else _filling(tree, kind, soil, last, c.events_of(key))
        found[key] = Standing(planting, pot, last, soil, full, assumed)
    return found


def _filling(
    tree: Tree, species: Species | None, soil_l: float, last: date | None, log: tuple[Event, ...]
) -> tuple[Filling | None, str]:
    """(the curve, what of it is assumed); None where species, crown or the day of the last repotting are not known."""
    crown = crown_area_m2(tree.measure)
    if last is None or species is None or species.leaf_area_index is None or crown is None:
        return None, ""
    assumed = ""
    seen = [r for r in tree.root_masses if r.seen is not None and r.seen <= last and not roots_fault(r)]
    if seen:
        kept = root_volume_l(max(seen, key=lambda r: r.seen or date.min))
        # a note of the same day says nothing of the roots
        shares = [dict(e.figures).get("removed_feeder_share") for e in log if e.date == last and e.kind == "repotted"]
        share = next((s for s in reversed(shares) if s is not None), None)
        # a mass seen on the very day is what was left; an older one has yet to lose what came off
        if share is not None and all(r.seen != last for r in seen):
            kept *= 1 - min(max(share, 0.0), 1.0)
    else:
        kept, assumed = (
            KEPT_SHARE * soil_l,
            "what was left of the roots then is not written down: half the soil assumed",
        )
    first = first_filling(min(kept, soil_l), BOUND, soil_l)
    rate = filling_rate(care_classes()[species.class_key].root_rate_per_year, crown * species.leaf_area_index, soil_l)
    return filling(last, first, rate, fill_signs(tree)), assumed


def fill_signs(tree: Tree) -> list[tuple[date, str]]:
    """Signs of a full pot with their days; water that goes within twenty seconds is none."""
    found: list[tuple[date, str]] = []
    for sign in tree.signs:
        if sign.date is None or sign.value in ("no", "0"):
            continue
        if sign.sign == "drains_slowly" and _seconds(sign.value) <= SLOW_SECONDS:
            continue
        found.append((sign.date, sign.sign))
    return found


def _seconds(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return SLOW_SECONDS + 1
