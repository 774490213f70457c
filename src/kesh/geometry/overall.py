"""How much room a pot takes: outside with belly, bands, lip and feet. The stated length and width are those of the rim."""

from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns, half_width_of
from kesh.geometry.outline import Floats, outline_points, stretched_rings
from kesh.geometry.profile import extreme_heights_mm, inset_at_mm, inset_mm
from kesh.geometry.relief import outer_inset_mm, relief_shares
from kesh.model.pot import Pot

ANGLES = 720


def _least_inset_mm(pots: PotColumns) -> Floats:
    """How far the outside stands inside the rim outline where it reaches farthest out, (N,); negative: beyond the rim."""
    body = np.zeros((len(pots), 1))
    heights = extreme_heights_mm(pots, -pots.floor)
    inset = np.minimum(inset_at_mm(pots, heights).min(axis=1), inset_mm(pots, body)[:, 0])
    for i, pot in enumerate(pots.pots):
        if pot.bands:
            inset[i] = min(float(inset[i]), float(outer_inset_mm(pot, relief_shares(pot)).min()))
    return np.asarray(inset)


@lru_cache(maxsize=4096)
def overall_mm(pot: Pot) -> tuple[float, float, float]:
    """Length, width and height of the box round the whole pot, mm."""
    q = float(_least_inset_mm(columns([pot]))[0])
    try:
        ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, q, ANGLES)
    except FieldError:
        ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, ANGLES)
    x, y = np.ptp(ring, axis=0)
    return float(x), float(y), pot.height_mm


def overalls_mm(pots: PotColumns) -> tuple[Floats, Floats]:
    """Length and width of the boxes round N pots, mm, (N,) each; a long list and the solver's rows in closed form."""
    if not pots.many:
        sizes = np.array([overall_mm(pot)[:2] for pot in pots.pots]).reshape(-1, 2)
        return sizes[:, 0], sizes[:, 1]
    out = -2 * _least_inset_mm(pots)
    long, wide = pots.length.copy(), pots.width.copy()
    kinds = pots.each(lambda p: p.outline.kind)
    plain = np.isin(kinds, ("rectangle", "oval", "round"))
    long, wide = long + out, wide + out
    sides = pots.each(lambda p: p.outline.sides if p.outline.kind == "polygon" else 0)
    n = np.maximum(sides, 4)
    apothem = pots.length / 2 * np.cos(np.pi / n) / half_width_of(n)
    regular = (sides > 0) & (n % 2 == 0) & (np.abs(pots.width - 2 * apothem) <= 0.005 * pots.width)
    # a corner that looks to the side is cut off by its rounding, a flat side is not
    lost = np.where(n % 4 == 0, 0.0, 1 / np.cos(np.pi / n) - 1) * np.where(pots.corner > 0, pots.corner + out / 2, 0.0)
    long = np.where(regular, pots.length * (1 + out / 2 / apothem) - 2 * lost, long)
    wide = np.where(regular, 2 * apothem + out, wide)
    for i in np.flatnonzero(~plain & ~regular).tolist():
        if pots.which is None and out[i] > 1e-6:
            long[i], wide[i] = overall_mm(pots.pots[i])[:2]
        else:
            ring = stretched_rings(pots.pots[i].outline, pots.length[[i]], pots.width[[i]], ANGLES)[0]
            long[i], wide[i] = np.ptp(ring, axis=0) + max(out[i], 0.0)
    return long, wide


def differs(pot: Pot) -> bool:
    """Whether the overall size is another figure than the stated one, by half a millimetre or more."""
    x, y, _ = overall_mm(pot)
    return abs(x - pot.length_mm) >= 0.5 or abs(y - pot.width_mm) >= 0.5


def overall_words(pot: Pot, factor: float = 1.0) -> str:
    """'340 × 253.3 over all' in mm times the factor; '' where the stated sizes are the overall ones."""
    if not differs(pot):
        return ""
    long, wide, _ = (round(mm * factor, 1) for mm in overall_mm(pot))
    return f"{long:g} × {wide:g} over all"
