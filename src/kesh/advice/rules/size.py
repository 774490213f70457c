"""Rules on size, depth and looks: what the school and the place ask for."""

from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from kesh.advice.case import Case
from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, at_most, in_band, unknown
from kesh.base.status import FITS, NO, WATCH
from kesh.base.units import Units
from kesh.geometry.columns import PotColumns, carries
from kesh.model import Pot
from kesh.science.looks.character import mood
from kesh.science.looks.proportion import WantedBand

SLACK = 0.20
# how near its band a pot counts that the tree grows into by the horizon [J]
INTO = 0.85
# how well the weight to the eye is known, and how far off its band is still only to be watched [J]
MASS_KNOWN, MASS_SLACK = 0.10, 0.60
NO_MASS_RULE = frozenset({"cascade", "semi_cascade", "forest", "raft", "landscape_tray", "accent"})
REFINED = frozenset({"refining", "on_show"})


def _band(f: Figures, name: str) -> WantedBand:
    return getattr(f.case.bands, name)  # type: ignore[no-any-return]


def _room(f: Figures, name: str) -> float:
    """The largest length or width that the tree grows into by the brief's horizon; the band's own end where it must be exact."""
    high = _band(f, name).high
    if name == "depth" or f.case.exact or high is None:
        return high or 0.0
    return max(high, getattr(f.case.bands_ahead, name).high or 0.0)


def _check_band(f: Figures, name: str, value: np.ndarray | None) -> Result:
    band = _band(f, name)
    if value is None or band.low is None or band.high is None:
        return unknown(f)
    result = in_band(value, band.low, band.high, SLACK)
    ahead = _room(f, name)
    if ahead > band.high:
        grows_into = (value > band.high) & (value <= ahead)
        result = replace(
            result, status=np.where(grows_into, FITS, result.status).astype(np.int8),
            close=np.where(grows_into, INTO, result.close),
        )  # fmt: skip
    looks_count = f.case.school.purposes[f.case.purpose].looks_count
    if looks_count and f.case.tree.stage in REFINED:
        return result
    # a tree that grows on or develops is not judged by display: more room than asked is right for it, less is advice only
    roomy = ~np.bool_(looks_count or f.case.brief.season_views.size == "exact") & (value > band.high)
    status = np.where(roomy, FITS, np.where(result.status == NO, WATCH, result.status)).astype(np.int8)
    return Result(result.value, result.low, result.high, status, np.where(roomy, 1.0, result.close))


def _check_mass(f: Figures) -> Result | None:
    """The rule of visual mass is for refined trees, and not for hanging trees and groups."""
    tree = f.case.tree
    if tree.style in NO_MASS_RULE or tree.stage not in REFINED:
        return None
    # judged as shown, so that 0.45 is not above 0.45
    value, band = None if f.visual_ratio is None else np.round(f.visual_ratio, 2), _band(f, "visual_mass")
    if value is None or band.low is None or band.high is None:
        return unknown(f)
    # a tree drawn from its measures is known to a tenth; off the band by half again is taste, and only far off says so plainly
    result = in_band(value, band.low * (1 - MASS_KNOWN), band.high * (1 + MASS_KNOWN), MASS_SLACK)
    return Result(value, band.low, band.high, result.status, result.close)


def _side(value: float, low: float, high: float, small: str, large: str) -> str:
    return small if value < low else large


def _depth_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, low, high = r.at(i)
    band, school = _band(f, "depth"), f.case.school.name.lower()
    if value is None or low is None or high is None:
        return Words(f"Depth is not judged: {band.inputs[0][0]} is not measured.", band.missing, "trunk not measured")
    trunk = band.inputs[0][1] or 1.0
    head = f"Inner depth {u.mm(value)} is {value / trunk:.2f} × trunk"
    if r.status[i] == FITS:
        return Words(f"{head}, inside the {u.band(low, high)} of the {school} school.", "", "depth inside the band")
    away = low - value if value < low else value - high
    word = _side(value, low, high, "shallow", "deep")
    change = f"{u.mm(away)} {'deeper' if value < low else 'shallower'} inside"
    return Words(
        f"{head}: {word} for the {school} school.",
        f"{u.band(low, high)} would suit.",
        f"{u.mm(away)} too {word}",
        change,
    )


def _years_of_room(f: Figures) -> str:
    years = f.case.brief.horizon_years
    return f"room that the tree grows into within {years:g} {'year' if years == 1 else 'years'}"


def _length_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, low, high = r.at(i)
    band, school = _band(f, "length"), f.case.school.name.lower()
    if value is None or low is None or high is None:
        return Words(f"Length is not judged: {band.inputs[0][0]} is not measured.", band.missing, "spread not measured")
    head = f"Length {u.mm(value)} is {value / (band.inputs[0][1] or 1.0):.2f} × {band.inputs[0][0]}"
    if {"canopy_left_mm", "canopy_right_mm"} & set(f.case.tree.measure.assumed) and "spread" in band.inputs[0][0]:
        head += " (spread as is usual for the style, not measured)"
    if r.status[i] == FITS and high < value <= _room(f, "length"):
        return Words(f"{head}; {u.band(low, high)} is asked today: {_years_of_room(f)}.", "", "room to grow into")
    if r.status[i] == FITS:
        return Words(f"{head}; {u.band(low, high)} is asked.", "", "length inside the band")
    away = low - value if value < low else value - high
    word = _side(value, low, high, "short", "long")
    change = f"{u.mm(away)} {'longer' if value < low else 'shorter'}"
    return Words(
        f"{head}: {word} for the {school} school.",
        f"{u.band(low, high)} would suit.",
        f"{u.mm(away)} too {word}",
        change,
    )


def _width_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, low, high = r.at(i)
    if value is None or low is None or high is None:
        return Words("Width is not judged without the wanted length.", _band(f, "width").missing, "width not judged")
    if r.status[i] == FITS and high < value <= _room(f, "width"):
        return Words(
            f"Width {u.mm(value)}; {u.band(low, high)} is asked today: {_years_of_room(f)}.", "", "room to grow into"
        )
    if r.status[i] == FITS:
        return Words(f"Width {u.mm(value)} lies inside the wanted {u.band(low, high)}.", "", "width inside the band")
    away = low - value if value < low else value - high
    word = _side(value, low, high, "narrow", "wide")
    change = f"{u.mm(away)} {'wider' if value < low else 'narrower'}"
    return Words(
        f"Width {u.mm(value)} is {word}.", f"{u.band(low, high)} would suit.", f"{u.mm(away)} too {word}", change
    )


def _mass_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, low, high = r.at(i)
    if value is None or low is None or high is None:
        return Words(
            "Visual mass is not judged: the tree cannot be drawn from its measures.",
            "Measure height, trunk and both reaches.", "visual mass unknown",
        )  # fmt: skip
    head = f"The pot weighs {value:.2f} of the tree to the eye"
    if r.status[i] == FITS:
        return Words(f"{head}; {low:.2f}–{high:.2f} is asked.", "", "visual mass inside the band")
    word = _side(value, low, high, "light", "heavy")
    return Words(
        f"{head}: {word} for the {f.case.school.name.lower()} school, which asks {low:.2f}–{high:.2f}.",
        "Darker or taller pots weigh more, pale and low ones less.", f"looks too {word}",
        f"a {'heavier' if word == 'light' else 'lighter'} look",
    )  # fmt: skip


BARE, BRIGHT = ("unglazed", "as_made"), ("bright_glaze", "painted")


def _finish_check(f: Figures) -> Result:
    species = f.case.species
    if species is None:
        return unknown(f)
    asked = set(wanted_finishes(f.case))
    glazed, bright = ~carries(f.pots, "finish", BARE), carries(f.pots, "finish", BRIGHT)
    quiet_ok = f.case.school.glaze_under_conifer != "no" or species.glaze_tradition != "unglazed"
    if "unglazed" in asked and len(asked) == 1:
        status = np.where(~glazed, FITS, np.where(~bright & quiet_ok, WATCH, NO if not quiet_ok else WATCH))
    elif "either" in asked or "any_glaze" in asked or "n/a" in asked:
        status = np.full(len(f.pots), FITS)
    elif "unglazed" in asked:
        status = np.where(bright & ("bright_glaze" not in asked), WATCH, FITS)
    else:
        # bare clay is allowed where a glaze is usual
        status = np.where(bright & ("bright_glaze" not in asked), WATCH, FITS)
    close = np.array([1.0, 0.5, 0.0, 0.5])[status]
    close = np.where((status == FITS) & ~glazed & ("unglazed" not in asked) & ("either" not in asked), 0.8, close)
    return Result(None, None, None, status.astype(np.int8), close)


def wanted_finishes(case: Case) -> tuple[str, ...]:
    """Finishes the school usually picks, most usual first; a species that is unglazed by tradition wins."""
    species, row = case.species, case.bands.tradition
    if species is None:
        return ()
    if species.glaze_tradition == "unglazed" and case.school.glaze_under_conifer != "any":
        return ("unglazed",)
    if case.bears_colour:
        return tuple(row.glaze_flowering_fruiting.split(";"))
    if species.group == "conifer":
        return tuple(row.glaze_conifer.split(";"))
    return tuple((row.glaze_deciduous if species.group == "deciduous" else row.glaze_broadleaf_tropical).split(";"))


def _finish_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.case.species is None:
        doubt = f.case.doubt("species")
        why = f"Finish is not judged. {doubt.text}" if doubt else "Finish is not judged: the species is not named."
        return Words(why, doubt.remedy if doubt else "Name the species in step 1.", "finish not judged")
    pot, school = f.pots.pots[i], f.case.school.name.lower()
    asked = " or ".join(sorted(wanted_finishes(f.case))).replace("_", " ")
    has = pot.finish.replace("_", " ")
    if r.status[i] == FITS:
        return Words(f"Finish {has} is usual for this kind of tree in the {school} school.", "", "finish is usual")
    return Words(
        f"Finish {has}: the {school} school would take {asked} here. Others use any finish that serves.",
        f"Look for {asked}, or keep it and note why.", f"{has} is unusual here", "another finish",
    )  # fmt: skip


@lru_cache(maxsize=4096)
def _outline_names(
    kind: str, profile: str, sides: int, square: bool, tall: bool, soft: bool, low: bool
) -> frozenset[str]:
    if profile == "slab":
        return frozenset({"slab"})
    if kind == "rectangle":
        if square:
            return frozenset({"cascade_square"} if tall else {"square"})
        found = {"rectangle_soft" if soft else "rectangle_sharp"}
    elif kind in ("polygon", "round"):
        if tall:
            return frozenset({"cascade_round"})
        name = (
            {3: "hexagon", 8: "octagon"}.get(sides, "hexagon")
            if kind == "polygon"
            else "drum"
            if profile == "bowed"
            else "round"
        )
        found = {name}
    else:
        found = {{"oval": "oval", "lobed": "mokko", "free": "free_form"}[kind]}
    return frozenset(found | ({"tray"} if low else set()))


def pot_outlines(pot: Pot) -> frozenset[str]:
    """The words of the tradition table that name a pot's outline."""
    outline, length = pot.outline, pot.length_mm
    return _outline_names(
        outline.kind, pot.profile.kind, outline.sides, abs(length - pot.width_mm) < 0.08 * length,
        pot.height_mm > 1.1 * length, outline.corner_mm > 0.04 * length, pot.height_mm < 0.13 * length,
    )  # fmt: skip


@lru_cache(maxsize=8)
def _outline_codes(pots: PotColumns) -> tuple[list[frozenset[str]], NDArray[np.intp]]:
    """The different sets of outline words on a shelf, and which of them each pot has."""
    kinds: dict[frozenset[str], int] = {}
    codes = [kinds.setdefault(pot_outlines(pot), len(kinds)) for pot in pots.pots]
    return list(kinds), np.array(codes)


def wanted_outlines(f: Figures) -> tuple[str, ...]:
    """Outlines the school usually takes for this tree's strength, most usual first."""
    row = f.case.bands.tradition
    cell = {
        "powerful": row.outline_powerful, "delicate": row.outline_delicate, "balanced": row.outline_balanced,
    }[mood(f.case.strength)]  # fmt: skip
    return tuple(cell.split(";"))


def _outline_check(f: Figures) -> Result:
    wanted, avoid = set(wanted_outlines(f)), set(f.case.bands.tradition.outline_avoid.split(";")) - {""}
    kinds, codes = _outline_codes(f.pots)
    grades = np.array([0 if names & wanted else 2 if names & avoid else 1 for names in kinds])[codes]
    return Result(
        None, None, None, np.array([FITS, FITS, WATCH], dtype=np.int8)[grades], np.array([1.0, 0.7, 0.3])[grades]
    )


def _outline_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    has = " or ".join(sorted(pot_outlines(f.pots.pots[i]))).replace("_", " ")
    wanted = " or ".join(wanted_outlines(f)).replace("_", " ")
    style = f.case.tree.style.replace("_", " ")
    if r.status[i] == FITS:
        return Words(f"Outline {has}; usual for {style}: {wanted}.", "", "outline serves")
    return Words(
        f"Outline {has} is seldom taken for {style}.", f"Usual: {wanted}.", f"{has} is seldom taken", "another outline"
    )


def _bench_check(f: Figures) -> Result | None:
    limit = f.case.brief.limits.bench_length_mm
    return None if limit is None else at_most(f.overall[0], limit, limit)


def _bench_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, _, limit = r.at(i)
    assert value is not None
    assert limit is not None
    stated = float(f.pots.length[i])
    head = "Length" if abs(stated - value) < 0.5 else f"Length over all, {u.mm(stated)} at the rim,"
    if r.status[i] == FITS:
        return Words(f"{head} {u.mm(value)} stands on the bench of {u.mm(limit)}.", "", "stands on the bench")
    return Words(
        f"{head} {u.mm(value)} is more than the bench's {u.mm(limit)}.", f"Find {u.mm(value - limit)} of bench, or a shorter pot.",
        f"{u.mm(value - limit)} over the bench", f"{u.mm(value - limit)} shorter",
    )  # fmt: skip


def _total_check(f: Figures, limit: float | None, below_mm: float) -> Result | None:
    """Tree, pot and what stands below it against a height."""
    height = f.case.tree.measure.height_mm
    if limit is None:
        return None
    if height is None:
        return unknown(f)
    return at_most(height + f.pots.body_height + f.pots.feet + f.case.seat.raise_mm + below_mm, limit, limit)


def _door_check(f: Figures) -> Result | None:
    return _total_check(f, f.case.brief.limits.doorway_mm, 0.0)


def _car_check(f: Figures) -> Result | None:
    return _total_check(f, f.case.brief.limits.car_height_mm, 0.0)


def _show_check(f: Figures) -> Result | None:
    return _total_check(f, f.case.brief.limits.show_height_mm, f.case.brief.stand_mm)


def _show_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, _, limit = r.at(i)
    if value is None or limit is None:
        return Words(
            "Height of the whole is not known: the tree's height is missing.", "Measure the height.", "height unknown"
        )
    stand = f.case.brief.stand_mm
    whole = f"Tree and pot on a stand of {u.mm(stand)}" if stand else "Tree and pot, no stand,"
    if r.status[i] == FITS:
        return Words(f"{whole} reach {u.mm(value)}; {u.mm(limit)} is allowed.", "", "height allowed")
    over = value - limit
    lower = f"a stand {u.mm(over)} lower" if stand >= over else "a lower pot"
    return Words(
        f"{whole} reach {u.mm(value)}, {u.mm(limit)} is allowed.", f"Take {lower}, or another class.",
        f"{u.mm(over)} too high to show", f"{u.mm(over)} lower",
    )  # fmt: skip


def _door_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    return _passage_words(r, i, u, "doorway", "passes the door", "too high for the door", "another way in")


def _car_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    return _passage_words(r, i, u, "car's clear height", "goes into the car", "too high for the car", "another car")


def _passage_words(r: Result, i: int, u: Units, limit_words: str, good: str, bad: str, way: str) -> Words:
    value, _, limit = r.at(i)
    if value is None or limit is None:
        return Words(
            "Total height is not known: the tree's height is missing.", "Measure the height.", "height unknown"
        )
    if r.status[i] == FITS:
        return Words(f"Tree and pot stand {u.mm(value)}; the {limit_words} is {u.mm(limit)}.", "", good)
    return Words(
        f"Tree and pot stand {u.mm(value)}, the {limit_words} is {u.mm(limit)}.", f"A lower pot, or {way}.",
        f"{u.mm(value - limit)} {bad}", f"{u.mm(value - limit)} lower",
    )  # fmt: skip


def _state_check(f: Figures) -> Result | None:
    if not f.case.taken and not f.case.rejected and not f.case.kept_for:
        return None
    busy, turned = carries(f.pots, "id", f.case.taken), carries(f.pots, "id", f.case.rejected)
    busy = busy | carries(f.pots, "id", f.case.kept_for)
    status = np.where(busy | turned, WATCH, FITS).astype(np.int8)
    return Result(None, None, None, status, np.where(busy | turned, 0.2, 1.0))


def _state_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    pot = f.pots.pots[i]
    if pot.id in f.case.rejected:
        return Words(
            f"Rejected before: {f.case.rejected[pot.id]}",
            "Take it back into the line-up to try again.",
            "rejected before",
        )
    if pot.id in f.case.taken:
        return Words(
            f"It holds {f.case.taken[pot.id]} now.",
            "Free it first, or choose another.",
            f"holds {f.case.taken[pot.id]}",
        )
    if pot.id in f.case.kept_for:
        name = f.case.kept_for[pot.id]
        return Words(f"It is reserved for {name}.", "Choose another, or free it on its card.", f"reserved for {name}")
    return Words("Nothing stands in it.", "", "free")


RULES = (
    Rule("depth_band", "depth", "mm", "school", lambda f: _check_band(f, "depth", f.pots.inner_depth), _depth_words),
    Rule("length_band", "size", "mm", "school", lambda f: _check_band(f, "length", f.pots.length), _length_words, weight=2),
    Rule("width_band", "size", "mm", "school", lambda f: _check_band(f, "width", f.pots.width), _width_words),
    Rule("bench_length", "size", "mm", "brief", _bench_check, _bench_words),
    Rule("doorway", "size", "mm", "brief", _door_check, _door_words),
    Rule("car_height", "size", "mm", "brief", _car_check, _car_words),
    Rule("show_height", "size", "mm", "brief", _show_check, _show_words),
    Rule("visual_mass", "looks", "", "school", _check_mass, _mass_words, weight=2),
    Rule("finish", "looks", "", "school", _finish_check, _finish_words),
    Rule("outline", "looks", "", "school", _outline_check, _outline_words),
    Rule("pot_state", "handling", "", "collection", _state_check, _state_words),
)  # fmt: skip
