"""Wall profiles: how far the outer wall stands inside the rim outline (docs/methods.md, "volume to any height")."""

import numpy as np

from kesh.geometry.columns import PROFILES, PotColumns
from kesh.geometry.outline import Floats


def inset_mm(pots: PotColumns, u: Floats) -> Floats:
    """Inset d(u) of the outer wall, + inward, d(1) = 0. u: (N, M) shares of the body height; returns (N, M)."""
    kind = pots.profile
    base = np.where(kind == PROFILES["tube"], 0.0, pots.base_inset)[:, None]
    belly = np.where(kind == PROFILES["bowed"], 4 * pots.belly, 0.0)[:, None]
    d = (base - belly * u) * (1 - u)
    lips = kind == PROFILES["lip"]
    if np.any(lips):
        at, lip, base, v = pots.lip_at[lips, None], pots.lip_offset[lips, None], pots.base_inset[lips, None], u[lips]
        s = (v - at) / (1 - at)
        d[lips] = np.where(v <= at, base + (lip - base) * np.minimum(v / np.maximum(at, 1e-9), 1.0), lip * (1 - s**2))
    for i in np.flatnonzero(pots.profile == PROFILES["table"]):
        knots = np.array(pots.pots[i].profile.table)
        d[i] = np.interp(u[i], knots[:, 0], knots[:, 1])
    return d


def extreme_heights_mm(pots: PotColumns, low_mm: Floats) -> Floats:
    """Heights (N, K) above the inner floor, from low_mm (N,) to the rim, at which the inset has its extremes."""
    kinks = np.clip(
        pots.kinks * pots.body_height[:, None] - pots.floor[:, None], low_mm[:, None], pots.inner_depth[:, None]
    )
    return np.sort(np.concatenate([low_mm[:, None], kinks, pots.inner_depth[:, None]], axis=1), axis=1)


def inset_at_mm(pots: PotColumns, z_mm: Floats) -> Floats:
    """Inset at heights z above the inner floor, (N, M)."""
    return inset_mm(pots, (z_mm + pots.floor[:, None]) / pots.body_height[:, None])


def undercut_mm(pots: PotColumns) -> tuple[Floats, Floats]:
    """(U, z): how far the wall higher up stands inward of the wall below, mm a side, and the height z of the place.

    U = max over z of ( max over z' >= z of d(z') - d(z) ); 0 means that the ball lifts straight out. Between its kinks
    a profile is monotone, so the kinks and the ends suffice.
    """
    z = extreme_heights_mm(pots, np.zeros(len(pots)))
    d = inset_at_mm(pots, z)
    above = np.maximum.accumulate(d[:, ::-1], axis=1)[:, ::-1]
    gap = above - d
    at = np.argmax(gap, axis=1)
    rows = np.arange(len(pots))
    return np.where(pots.slab, 0.0, gap[rows, at]), z[rows, at]
