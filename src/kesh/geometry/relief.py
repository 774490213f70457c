"""Raised bands on the outside of a pot: how far they stand out, where, and what clay they take. The inside knows nothing of them."""

from itertools import pairwise

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns
from kesh.geometry.outline import Floats
from kesh.geometry.profile import inset_mm
from kesh.model.pot import Band, Pot

# levels on a half round; a chamfer takes at most this share of a flat band's height at each edge
ROUND_LEVELS, CHAMFER_SHARE = 13, 1 / 4
GAUSS = np.polynomial.legendre.leggauss(16)


def span_mm(pot: Pot, band: Band) -> tuple[float, float]:
    """From and to, mm above the floor's underside, with the band pushed back onto the wall."""
    half, body = band.tall_mm / 2, pot.body_height_mm
    middle = min(max(band.at_share * body, half), body - half)
    return middle - half, middle + half


def band_spans(pot: Pot) -> tuple[tuple[float, float, Band], ...]:
    """Every band with its from and to, mm above the floor's underside."""
    return tuple((*span_mm(pot, band), band) for band in pot.bands)


def check_bands(pot: Pot) -> None:
    """Raises FieldError when two bands run into each other."""
    for (_, top), (low, _) in pairwise(sorted(span[:2] for span in band_spans(pot))):
        if low < top - 1e-9:
            raise FieldError("bands", f"two bands run into each other {top:.0f} mm above the floor; move or narrow one")


def _chamfer(band: Band) -> float:
    return min(band.proud_mm, CHAMFER_SHARE * band.tall_mm)


def stands_out_mm(band: Band, above: Floats) -> Floats:
    """How far a band stands out at heights above its own lower edge, mm; 0 beside it."""
    if band.form == "flat":
        rise = np.minimum(above, band.tall_mm - above) / _chamfer(band)
        return np.asarray(band.proud_mm * np.clip(rise, 0, 1))
    share = np.clip(2 * above / band.tall_mm - 1, -1, 1)
    return np.asarray(band.proud_mm * np.sqrt(1 - share**2))


def relief_mm(pot: Pot, z_mm: Floats) -> Floats:
    """How far the bands stand out from the wall at heights above the floor's underside, mm, same shape."""
    out = np.zeros_like(np.asarray(z_mm, float))
    for band in pot.bands:
        out = np.maximum(out, stands_out_mm(band, z_mm - span_mm(pot, band)[0]))
    return out


def relief_shares(pot: Pot) -> Floats:
    """Shares of the body height at which the outer wall must be sampled so that its bands are seen."""
    found: list[Floats] = []
    for band in pot.bands:
        low, high = span_mm(pot, band)
        if band.form == "flat":
            edge = _chamfer(band)
            found.append(np.array([low, low + edge, high - edge, high]))
        else:
            turn = np.linspace(0, np.pi, ROUND_LEVELS)
            found.append((low + high) / 2 - band.tall_mm / 2 * np.cos(turn))
    return np.clip(np.concatenate(found), 0, pot.body_height_mm) / pot.body_height_mm if found else np.zeros(0)


def outer_inset_mm(pot: Pot, u: Floats) -> Floats:
    """How far the outside, bands included, stands inside the rim outline at shares u (k,) of the body height; - is outside it."""
    return np.asarray(inset_mm(columns([pot]), u[None, :])[0] - relief_mm(pot, u * pot.body_height_mm))


def over_bands_mm(pot: Pot) -> float:
    """How far the pot reaches beyond its rim on each side because of its bands, mm; 0 where none does."""
    return max(0.0, -float(outer_inset_mm(pot, relief_shares(pot)).min())) if pot.bands else 0.0


def band_areas_mm2(pots: PotColumns) -> Floats:
    """Area of all bands of each pot cut across, one side, mm2, (N,)."""
    return pots.each(lambda p: sum(_cut_area(band) for band in p.bands) if p.bands else 0.0)


def _cut_area(band: Band) -> float:
    if band.form == "flat":
        return band.proud_mm * (band.tall_mm - _chamfer(band))
    return np.pi / 4 * band.proud_mm * band.tall_mm


def band_nodes(pot: Pot, band: Band) -> tuple[Floats, Floats, Floats]:
    """Nodes (16,) through a band for an integral: shares of the body height, weights in mm, how far it stands out."""
    low, high = span_mm(pot, band)
    x, w = GAUSS
    z = (low + high) / 2 + (high - low) / 2 * x
    return z / pot.body_height_mm, w * (high - low) / 2, stands_out_mm(band, z - low)


def band_words(pot: Pot) -> tuple[tuple[str, str], ...]:
    """Each band from below: what it is, and in words how tall, how far out, and how high above the bench."""
    said = []
    for low, high, band in sorted(band_spans(pot), key=lambda span: span[:2]):
        name = "Lip" if high > pot.body_height_mm - 0.5 else "Belt"
        form = "half round" if band.form == "round" else "flat, edges chamfered"
        at = f"{pot.feet_mm + low:.1f} to {pot.feet_mm + high:.1f} mm above the bench"
        said.append((name, f"{form}, {band.tall_mm:g} mm tall, stands out {band.proud_mm:g} mm, {at}"))
    return tuple(said)
