"""Features at a height on the trunk, checked against the soil line of the planting: roots, wounds, bulges, taproot."""

from collections.abc import Callable

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words
from kesh.base.status import FITS, NO, WATCH
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.model import Feature, FeatureKind

# a trunk measured nearer to a bulge than this share of the height is measured on it
ON_BULGE_SHARE = 0.04


def _of(f: Figures, kind: FeatureKind) -> list[Feature]:
    return [x for x in f.case.tree.features if x.kind == kind]


def _level(f: Figures, bad: bool, status: int) -> Result:
    n = len(f.pots)
    return Result(None, None, None, np.full(n, status if bad else FITS, dtype=np.int8), np.full(n, 0.5 if bad else 1.0))


def _named(feature: Feature) -> str:
    return f" ({feature.note})" if feature.note else ""


def _top_check(f: Figures) -> Result | None:
    found = _of(f, "top_roots")
    return _level(f, any(x.height_mm > f.case.soil_over_base_mm + 0.5 for x in found), WATCH) if found else None


def _top_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    soil = f.case.soil_over_base_mm
    high = max(_of(f, "top_roots"), key=lambda x: x.height_mm)
    if r.status[i] == FITS:
        return Words(
            f"The uppermost roots{_named(high)}, {u.mm(high.height_mm)} up, come under the soil.",
            "",
            "top roots covered",
        )
    gap = high.height_mm - soil
    return Words(
        f"Roots{_named(high)} leave the trunk {u.mm(gap)} above the soil line.",
        f"Keep them under moss, lower the tree or mound by {u.mm(gap)}, or take them off where they add nothing.",
        "top roots in the air", "a lower seat",
    )  # fmt: skip


def _aerial_check(f: Figures) -> Result | None:
    found = _of(f, "aerial_root")
    return _level(f, any(x.height_mm > f.case.soil_over_base_mm for x in found), WATCH) if found else None


def _aerial_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    gap = max(x.height_mm for x in _of(f, "aerial_root")) - f.case.soil_over_base_mm
    if r.status[i] == FITS:
        return Words("Every aerial root reaches the soil.", "", "aerial roots in soil")
    return Words(
        f"The tip of an aerial root hangs {u.mm(gap)} above the soil.",
        f"Lead it down in a straw or tube of about {u.mm(gap + 10)} filled with the mix, and keep it moist.",
        "aerial root hangs free", "a mound",
    )  # fmt: skip


def _wound_check(f: Figures) -> Result | None:
    found = _of(f, "wound")
    return _level(f, any(x.height_mm < f.case.soil_over_base_mm for x in found), WATCH) if found else None


def _wound_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    low = min(_of(f, "wound"), key=lambda x: x.height_mm)
    if r.status[i] == FITS:
        return Words(f"The wound{_named(low)} stays above the soil.", "", "wound dry")
    return Words(
        f"Soil covers the wound{_named(low)} by {u.mm(f.case.soil_over_base_mm - low.height_mm)}: wet wood rots.",
        "Raise the tree, or keep the soil off it.", "wound in the soil", "a higher seat",
    )  # fmt: skip


def _taper_check(f: Figures) -> Result | None:
    found, at = _of(f, "reverse_taper"), _station_height_mm(f)
    if not found or at is None:
        return None
    near = ON_BULGE_SHARE * (f.case.tree.measure.height_mm or 0.0)
    return _level(f, any(abs(x.height_mm - at) <= near for x in found), WATCH)


def _station_height_mm(f: Figures) -> float | None:
    tall = f.case.tree.measure.height_mm
    place = f.case.brief.trunk_station or f.case.tree.trunk_station
    return None if tall is None else {"soil": 0.0, "above_flare": 0.1, "mid_trunk": 0.5}[place] * tall


def _taper_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    bulge = _of(f, "reverse_taper")[0]
    if r.status[i] == FITS:
        return Words(
            f"The trunk thickens upward at {u.mm(bulge.height_mm)}{_named(bulge)}, away from where it is measured.",
            "", "measured off the bulge",
        )  # fmt: skip
    return Words(
        f"The trunk is taken on its bulge at {u.mm(bulge.height_mm)}{_named(bulge)}: the depth asked for comes out too large.",
        "Take the trunk at another place in the brief.", "trunk taken on a bulge", "another place",
    )  # fmt: skip


def _tap_room_mm(f: Figures) -> Floats:
    return f.pots.inner_depth + f.case.seat.raise_mm


def _tap_check(f: Figures) -> Result | None:
    found = _of(f, "tap_root")
    if not found:
        return None
    deep = max(-x.height_mm for x in found)
    room = _tap_room_mm(f)
    low = f.case.cut_limit is not None and f.case.roots is not None and f.case.roots.health in ("weak", "sick")
    status = np.where(room >= deep, FITS, NO if low else WATCH).astype(np.int8)
    return Result(np.full(len(f.pots), deep), None, room, status, np.clip(room / max(deep, 1e-9), 0, 1))


def _tap_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    deep, room = max(-x.height_mm for x in _of(f, "tap_root")), float(_tap_room_mm(f)[i])
    if r.status[i] == FITS:
        return Words(f"The taproot of {u.mm(deep)} has room.", "", "taproot has room")
    sick = " The tree is weak: wait until it has recovered." if r.status[i] == NO else ""
    return Words(
        f"The taproot reaches {u.mm(deep)} down, the pot leaves {u.mm(room)}.{sick}",
        f"Shorten it by {u.mm(deep - room)}, in stages while side roots are few.",
        "taproot too long", "a deeper pot",
    )  # fmt: skip


def _rule(
    code: str, check: Callable[[Figures], Result | None], words: Callable[[Figures, Result, int, Units], Words]
) -> Rule:
    return Rule(code, "root_fit", "mm", "measure", check, words, weight=0.3)


HEIGHT_RULES = (
    _rule("top_roots", _top_check, _top_words),
    _rule("aerial_root", _aerial_check, _aerial_words),
    _rule("wound", _wound_check, _wound_words),
    _rule("reverse_taper", _taper_check, _taper_words),
    _rule("tap_root", _tap_check, _tap_words),
)
