"""How far a photograph's figures can be trusted: each is measured in several cut-outs, and where they differ it is not given."""

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.photo.classes import Image
from kesh.photo.measure import PhotoMeasures, measure
from kesh.photo.scale import Scale
from kesh.photo.stem import Stem, stem_of
from kesh.photo.tree_cut import TreeCut
from kesh.photo.trunk import Reading, apart, in_doubt

Floats = NDArray[np.float64]
# a figure whose cut-outs differ by more than this share of it is not given; of a doubtful cut-out less is borne
MOST_APART, MOST_APART_DOUBTFUL = 0.06, 0.02
# nothing is given of a cut-out whose trials differ by more than this share of its area, loop or no loop
MOST_DOUBT = 0.30
# angles and offsets may be nought: what they differ by is held against this share of the height, or this angle
AGAINST_HEIGHT, AGAINST_DEG, AGAINST_SHARE = 0.25, 30.0, 0.5
# colours are of the middle of what was found and do not hang on its edge
NO_NUMBER = ("bark_colour", "leaf_colour")


def measured_with_doubt(
    image: Image, cut: TreeCut, scale: Scale, soil: tuple[float, float], apex: tuple[float, float] | None = None
) -> PhotoMeasures:
    """All figures of a cut-out, each with what its trials differ by in its plus or minus, or not given at all.

    Raises FieldError as `measure` does.
    """
    found = measure(image, cut.mask, scale, soil, apex)
    others = _others(image, cut, scale, soil, apex)
    stems = tuple(_larger(o.profile.stem, 1 / cut.factor) for o in others)
    if cut.edges is not None:
        stems = (*stems, _stem(cut.edges, scale, soil))
    height = found.figures["height_mm"].value
    tall = float(height) if isinstance(height, float) else 1.0
    said = {
        name: reading if name in NO_NUMBER else _doubted(name, reading, others, cut, tall)
        for name, reading in found.figures.items()
    }
    profile = replace(
        found.profile, beside=stems, settles=cut.settles(), given=not _worthless(cut),
        followed_px=0.0 if cut.edges is None or not len(stems[-1].height) else float(stems[-1].height[-1]),
    )  # fmt: skip
    notes = (*found.notes, *((f"the cut-out is in doubt: {cut.settles()}",) if cut.doubtful else ()))
    return replace(found, figures=said, profile=profile, doubt=round(cut.doubt, 3), notes=notes)


def _worthless(cut: TreeCut) -> bool:
    """Whether nothing is given of a cut-out: in doubt in a loop that nobody drew, or far too much in doubt in any."""
    return (cut.doubtful and cut.proposed) or cut.doubt > MOST_DOUBT


def _others(
    image: Image, cut: TreeCut, scale: Scale, soil: tuple[float, float], apex: tuple[float, float] | None
) -> list[PhotoMeasures]:
    """Figures of the other cut-outs, at their smaller size; those in which nothing can be measured are left out."""
    if not len(cut.others):
        return []
    f = cut.factor
    high, wide = cut.others.shape[1:]
    small = np.asarray(cv2.resize(image, (wide, high), interpolation=cv2.INTER_AREA), np.uint8)
    less = scale.at_size(f)
    made = []
    for other in cut.others:
        try:
            made.append(measure(small, other, less, (soil[0] * f, soil[1] * f),
                                None if apex is None else (apex[0] * f, apex[1] * f), colours=False))  # fmt: skip
        except FieldError:
            continue
    return made


def _doubted(name: str, reading: Reading, others: list[PhotoMeasures], cut: TreeCut, tall: float) -> Reading:
    value = reading.value
    if not isinstance(value, int | float) or not len(cut.others):
        return reading
    seen = [o.figures[name].value for o in others if name in o.figures]
    values = [float(v) for v in seen if isinstance(v, int | float)]
    share, spread = apart(float(value), values, len(cut.others), _against(reading.unit, name, float(value), tall))
    if _worthless(cut) or share > (MOST_APART_DOUBTFUL if cut.doubtful else MOST_APART):
        return in_doubt(reading, max(share, cut.doubt if _worthless(cut) else 0.0), cut.settles())
    more = float(np.hypot(reading.plus_minus or 0.0, spread))
    digits = 2 if reading.unit == "share" else 1
    return replace(reading, plus_minus=round(more, digits), doubt=round(min(share, 1.0), 3))


def _against(unit: str, name: str, value: float, tall: float) -> float:
    """What a difference is a share of."""
    if unit == "deg":
        return AGAINST_DEG
    if unit == "share":
        return AGAINST_SHARE
    if unit == "mm":
        least = AGAINST_HEIGHT if name in ("apex_offset_mm", "visual_centre_mm", "crown_base_mm", "drop_mm") else 0.02
        return max(abs(value), least * tall)
    return max(abs(value), 1.0)


def _larger(stem: Stem, factor: float) -> Stem:
    """A stem in a picture that is so much larger."""
    limb = None if stem.limb_px is None else stem.limb_px * factor
    return Stem(stem.height * factor, stem.left * factor, stem.right * factor, stem.width * factor, limb)


def _stem(edges: Floats, scale: Scale, soil: tuple[float, float]) -> Stem:
    """The trunk by its two edges (n, 4), in px of the level picture from the foot."""
    left, right = (np.column_stack([edges[:, k], edges[:, 0]]) for k in (1, 2))
    foot = np.array([soil], float)
    if not scale.straight:
        left, right, foot = scale.levelled(left), scale.levelled(right), scale.levelled(foot)
    up = foot[0, 1] - (left[:, 1] + right[:, 1]) / 2
    return stem_of(up, left[:, 0] - foot[0, 0], right[:, 0] - foot[0, 0], max(4, len(up) // 25))
