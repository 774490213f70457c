"""Belt and lip of a design by hand: which there is, its sizes, and a pot with one changed."""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.desk.bench import Grip
from kesh.geometry.relief import outer_inset_mm, span_mm
from kesh.model import Band, Pot

FORMS = {"none": "none", "round": "half round", "flat": "flat band"}
KINDS = ("lip", "belt")
# a band of this share of the body, within what hands make
NEW_SHARE, LEAST_MM, MOST_MM, PROUD_SHARE = 0.10, 3.0, 12.0, 0.4
BELT_AT = 0.6


@dataclass(frozen=True)
class Sizes:
    """Tall, proud and the height of the middle above the bench, mm."""

    tall_mm: float
    proud_mm: float
    at_mm: float


def band_of(pot: Pot, kind: str) -> Band | None:
    """The lip is the band that reaches the rim, the belt the first of the others."""
    for band in pot.bands:
        at_rim = span_mm(pot, band)[1] > pot.body_height_mm - 0.5
        if at_rim == (kind == "lip"):
            return band
    return None


def form_of(pot: Pot, kind: str) -> str:
    """Its form, or none."""
    band = band_of(pot, kind)
    return band.form if band else "none"


def sizes_of(pot: Pot, kind: str) -> Sizes | None:
    """Its sizes; None without one."""
    band = band_of(pot, kind)
    if band is None:
        return None
    low, high = span_mm(pot, band)
    return Sizes(band.tall_mm, band.proud_mm, round(pot.feet_mm + (low + high) / 2, 1))


def with_form(pot: Pot, kind: str, form: str) -> Pot:
    """The pot with a lip or belt of another form, or without. Raises FieldError when bands would meet."""
    old = band_of(pot, kind)
    rest = tuple(b for b in pot.bands if b is not old)
    if form == "none":
        return pot.changed(bands=rest)
    if old is None:
        tall = round(min(max(NEW_SHARE * pot.body_height_mm, LEAST_MM), MOST_MM), 1)
        at = 1.0 if kind == "lip" else BELT_AT
        new = Band(form=form, at_share=at, tall_mm=tall, proud_mm=round(PROUD_SHARE * tall, 1))
    else:
        new = old.changed(form=form)
    return pot.changed(bands=(*rest, new))


def with_size(pot: Pot, key: str, value: float) -> Pot:
    """The pot with `belt:tall_mm`, `belt:proud_mm`, `belt:at_mm` or the lip's changed. Raises FieldError."""
    kind, _, name = key.partition(":")
    band = band_of(pot, kind)
    if band is None:
        raise FieldError("bands", f"there is no {kind}; choose its form first")
    if name == "at_mm":
        share = (value - pot.feet_mm) / pot.body_height_mm
        # a belt that reached the rim would be a lip
        most = 1 - (band.tall_mm / 2 + 1) / pot.body_height_mm
        changed = band.changed(at_share=round(min(max(share, 0.0), most), 4))
    elif value <= 0:
        raise FieldError(name, f"a {kind} of {value:g} mm is none; choose the form 'none' to leave it out")
    else:
        changed = band.changed(**{name: value})
    return pot.changed(bands=tuple(changed if b is band else b for b in pot.bands))


def band_grips(pot: Pot) -> list[Grip]:
    """A grip on the tip of the belt, up and down."""
    sizes = sizes_of(pot, "belt")
    if sizes is None:
        return []
    share = (sizes.at_mm - pot.feet_mm) / pot.body_height_mm
    x = pot.length_mm / 2 - float(outer_inset_mm(pot, np.array([share]))[0])
    return [Grip("belt:at_mm", "Belt above the bench", x, sizes.at_mm, "y", sizes.at_mm)]
