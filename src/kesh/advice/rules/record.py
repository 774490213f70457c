"""Rules on the record itself: can it be reckoned, is its material known, do its holes lie on the floor, does the scale agree."""

from collections.abc import Callable

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, flags
from kesh.base.status import FITS, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.geometry.columns import words_of
from kesh.geometry.holes import drilled, misplaced
from kesh.geometry.outline import Floats
from kesh.geometry.sound import fault_of
from kesh.reference.tables import known_material, materials, nearest_key

MEASURED_APART = 0.10


def _record_check(f: Figures) -> Result | None:
    return flags(f.faulty, UNKNOWN) if f.faulty.any() else None


def _record_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if r.status[i] == FITS:
        return Words("The pot's record can be reckoned.", "", "record is whole")
    fault = fault_of(f.pots.pots[i])
    return Words(
        f"This pot cannot be reckoned: {fault}.",
        "Correct its outline, wall and sizes on the Shelf; until then nothing is judged.",
        f"not reckoned: {fault}",
        "a corrected record",
    )


OFF_WORDS = {
    "depth_band": "depth of display", "length_band": "length of display", "width_band": "width of display", "visual_mass": "visual mass", "root_depth": "how high the roots sit",
    "soil_line": "the soil line over them", "root_removal": "what comes off the roots", "root_sides": "room beside them", "lift_out": "lifting out",
}  # fmt: skip


def _off_check(f: Figures) -> Result | None:
    return flags(np.zeros(len(f.pots), dtype=bool)) if f.case.off else None


def _off_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    codes, why = f.case.switched_off
    names = [OFF_WORDS.get(code, code.replace("_", " ")) for code in codes]
    listed = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
    return Words(
        f"{listed.capitalize()} {'is' if len(names) == 1 else 'are'} not asked: {why[:1].lower()}{why[1:]}.",
        "",
        "display rules are off",
    )


def _material_check(f: Figures) -> Result | None:
    names, codes = words_of(f.pots, "material")
    known = np.array([known_material(name) is not None for name in names], dtype=bool)[codes]
    return None if known.all() else flags(~known, UNKNOWN)


def _material_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    name = f.pots.pots[i].material
    if r.status[i] == FITS:
        return Words("The material is in the table.", "", "material known")
    near = nearest_key(name, materials())
    hint = f"Perhaps {materials()[near].name.lower()} is meant; choose" if near else "Choose"
    return Words(
        f"Material '{name}' is not in the table: mass, tipping and frost are not judged.",
        f"{hint} the material on the Shelf, or weigh the pot.",
        "material not known",
        "a known material",
    )


def _holes_check(f: Figures) -> Result | None:
    bad = drilled(f.pots).beside & ~f.faulty
    return flags(bad, WATCH) if bad.any() else None


def _holes_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if r.status[i] == FITS:
        return Words("Every hole lies on the floor.", "", "holes lie on the floor")
    wrong = misplaced(f.pots.pots[i])
    one = wrong[0]
    more = f" and {len(wrong) - 1} more" if len(wrong) > 1 else ""
    return Words(
        f"The hole of {u.mm(one.diameter_mm)} at {u.figure(one.x_mm)}, {u.mm(one.y_mm)}{more} does not lie on the floor; "
        "nothing is reckoned with it.",
        "Correct its place: from the middle, right and back are positive.",
        "a hole beside the floor",
        "the hole's true place",
    )


def _measured(f: Figures, given: Floats, computed: Floats) -> Result | None:
    told = np.isfinite(given) & (computed > 0)
    if not told.any():
        return None
    safe = np.where(told, computed, 1.0)
    apart = np.where(told, given / safe - 1, 0.0)
    status = np.where(np.abs(apart) <= MEASURED_APART + 1e-9, FITS, WATCH).astype(np.int8)
    low, high = np.where(told, computed * (1 - MEASURED_APART), np.nan), np.where(told, computed * (1 + MEASURED_APART), np.nan)  # fmt: skip
    return Result(np.where(told, given, np.nan), low, high, status, np.where(status == FITS, 1.0, 0.5))


def _volumes(f: Figures) -> Floats:
    return f.pots.each(lambda p: np.nan if p.measured_volume_l is None else p.measured_volume_l).astype(float)


def _masses(f: Figures) -> Floats:
    return f.pots.each(lambda p: np.nan if p.measured_mass_kg is None else p.measured_mass_kg).astype(float)


def _measured_words(r: Result, i: int, name: str, computed: float, words: Callable[[float], str]) -> Words:
    value = r.at(i)[0]
    if value is None:
        return Words(f"The {name} was not measured.", "", f"{name} reckoned")
    apart = value / computed - 1
    return Words(
        f"Measured {name} {words(value)} is {apart:+.0%} against the computed {words(computed)}.",
        "" if r.status[i] == FITS else "Check wall, floor and profile; the measured figure is used.",
        f"{name} {apart:+.0%}",
        "" if r.status[i] == FITS else f"the {name} measured again",
    )


def _volume_check(f: Figures) -> Result | None:
    return _measured(f, _volumes(f), f.body.computed_volume_l)


def _volume_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    return _measured_words(r, i, "volume", float(f.body.computed_volume_l[i]), u.litres)


def _mass_check(f: Figures) -> Result | None:
    return _measured(f, _masses(f), f.body.computed_mass_kg)


def _mass_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    return _measured_words(r, i, "mass", float(f.body.computed_mass_kg[i]), u.kg)


RULES = (
    Rule("record", "size", "", "the record", _record_check, _record_words, weight=0.0),
    Rule("switched_off", "size", "", "brief", _off_check, _off_words, weight=0.0),
    Rule("material", "handling", "", "material table", _material_check, _material_words, weight=0.0),
    Rule("holes", "water", "", "geometry", _holes_check, _holes_words, weight=0.0),
    Rule("measured_volume", "size", "l", "measure", _volume_check, _volume_words, weight=0.0),
    Rule("measured_mass", "size", "kg", "measure", _mass_check, _mass_words, weight=0.0),
)
