"""Rules on water and air: what the pot does to the tree after the work is done."""

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, at_least, at_most, flags, unknown
from kesh.base.status import FITS, NO, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.science.season.season import MONTHS
from kesh.science.stand.stability import crown_area_m2

WET_SHARE_FITS, WET_SHARE_MOST = 0.40, 0.60
LEAST_DAYS, SHORT_DAYS, LONG_DAYS = 0.5, 0.25, 14.0
DRAIN_SHARE_FITS, DRAIN_SHARE_LEAST = 0.020, 0.010
# hours in growth until the roots have air again: usual, and to be watched [J]
FOOT_FITS_H, FOOT_WATCH_H = 24.0, 48.0


def _drain_check(f: Figures) -> Result:
    known = f.pots.each(lambda p: p.holes_known)
    share = f.body.hole_area_cm2 * 100 / np.maximum(f.body.floor_area_mm2, 1.0)
    result = at_least(share, DRAIN_SHARE_FITS, DRAIN_SHARE_LEAST)
    status = np.where(f.has_drain, np.minimum(result.status, WATCH), NO)
    slab = f.pots.slab
    status = np.where(slab, FITS, np.where(known, status, UNKNOWN)).astype(np.int8)
    return Result(
        share,
        DRAIN_SHARE_FITS,
        None,
        status,
        np.where(slab, 1.0, np.where(f.has_drain, np.maximum(result.close, 0.4), 0.0)),
    )


def _drain_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    pot = f.pots.pots[i]
    share = float(f.body.hole_area_cm2[i] * 100 / max(f.body.floor_area_mm2[i], 1.0))
    if pot.profile.kind == "slab":
        return Words("A slab drains over its edge.", "", "drains over the edge")
    if not pot.holes_known:
        return Words("Drain holes are not known.", "Turn the pot over and enter them.", "holes unknown")
    if not f.has_drain[i]:
        return Words(
            "No drain hole: water cannot leave.",
            "Drill one before use; drill wet, with eye protection.",
            "no drain hole",
            "drill drain holes",
        )
    if r.status[i] == FITS:
        return Words(f"Drain holes take {share:.1%} of the floor; 2 % is custom.", "", "holes are enough")
    return Words(
        f"Drain holes take {share:.1%} of the floor; 2 % is custom.",
        "Enlarge them or drill one more.",
        "few drain holes",
        "one more drain hole",
    )


def _base_check(f: Figures) -> Result:
    return flags((f.pots.feet < 2) & ~f.pots.slab, WATCH)


def _base_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if r.status[i] == FITS:
        return Words(f"Feet lift the floor {u.mm(float(f.pots.feet[i]))}.", "", "stands on feet")
    return Words(
        "The base lies flat on the bench: holes are shut.",
        f"Set it on battens of {u.mm(5)} or add feet.",
        "flat base",
        f"feet of {u.mm(5)}",
    )


def missing_water(f: Figures, slab: bool) -> Words:
    """Why water and air in the pot are not judged, and what settles it."""
    doubt = f.case.doubt("mix")
    if f.case.blend is None and doubt is not None:
        return Words(f"Water and air are not judged. {doubt.text}", doubt.remedy, "mix not known")
    if f.case.blend is None:
        empty = f.case.mix is not None
        why = f"the mix {f.case.mix.name} has no parts" if f.case.mix is not None else "no mix is chosen"
        remedy = "Give it parts in the Reference, under Mixes." if empty else "Choose a mix in step 2."
        return Words(f"Water and air are not judged: {why}.", remedy, "no mix chosen")
    if f.case.air_need is None:
        return _no_species(f, "The air the roots want is not known", "air not judged")
    if slab:
        return Words(
            "A slab carries its mix as a mound: water and air in it are not computed.",
            "Judge it by hand; mounds dry fast.",
            "water not judged on a slab",
        )
    return Words("No room for mix under the headspace.", "Choose a deeper pot.", "no depth for mix", "a deeper pot")


def _no_species(f: Figures, what: str, short: str) -> Words:
    """What stays open because the species is not named, or not in the table."""
    doubt = f.case.doubt("species")
    if doubt is not None:
        return Words(f"{what}. {doubt.text}", doubt.remedy, short)
    return Words(f"{what}: the species is not named.", "Name the species in step 1.", short)


def _foot_check(f: Figures) -> Result:
    """By time: just after watering every shallow pot is full at its foot; what harms is how long."""
    short, hours = f.air_short_l, f.wet_foot_h
    if short is None or f.case.blend is None:
        return unknown(f)
    bare = ~f.plantable & ~f.pots.slab
    wetland = f.case.species is not None and f.case.species.class_key == "wetland"
    if hours is None:
        # how long is not known: at once is, and the rest is to be seen
        breathes = wetland | ~(short > 0)
        result = Result(
            None, None, FOOT_FITS_H, np.where(breathes, FITS, WATCH).astype(np.int8), np.where(breathes, 1.0, 0.5)
        )
        status = np.where(np.isnan(short), UNKNOWN, result.status)
    else:
        result = at_most(hours, FOOT_FITS_H, FOOT_WATCH_H)
        status = np.where(wetland & (result.status != UNKNOWN), FITS, result.status)
    status = np.where(bare, NO, status).astype(np.int8)
    return Result(result.value, None, FOOT_FITS_H, status, np.where(bare, 0.0, result.close))


def _foot_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    need, hours = f.case.air_need, f.wet_foot_h
    if f.water is None or need is None or not f.plantable[i]:
        return missing_water(f, bool(f.pots.slab[i]))
    third, mean = float(f.water.air_bottom_third[i]), float(f.water.air_mean[i])
    drained = f"Just drained, the mix holds {mean:.0%} air and its lowest third {third:.0%}"
    if f.case.species is not None and f.case.species.class_key == "wetland":
        return Words(f"{drained}; {f.case.species.common_name} bears standing water.", "", "bears a wet foot")
    if hours is None:
        if r.status[i] == FITS:
            return Words(f"{drained}; {need:.0%} and {need / 2:.0%} are asked.", "", "breathes at once")
        return Words(
            f"{drained}; {need:.0%} and {need / 2:.0%} are asked. How long it stays so is not known.",
            _no_drying(f, i).remedy, "wet foot, time unknown",
        )  # fmt: skip
    wait = float(hours[i])
    if wait <= 0:
        return Words(f"{drained}; {need:.0%} and {need / 2:.0%} are asked and there at once.", "", "breathes at once")
    by_month = f.wet_hours_by_month(f.growing)
    assert by_month is not None
    slowest = MONTHS[f.growing[int(by_month[:, i].argmax())].month - 1]
    if not np.isfinite(wait):
        return Words(
            f"{drained}; in {slowest} it never dries to the {need:.0%} and {need / 2:.0%} that are asked.",
            "Coarser grains, a deeper pot or a smaller one.", "never has air", "a coarser mix",
        )  # fmt: skip
    told = f"{drained}; the {need:.0%} and {need / 2:.0%} asked are there after {wait:.0f} h in {slowest}, the slowest month of growth"
    if r.status[i] == FITS:
        return Words(f"{told}. {FOOT_FITS_H:.0f} h are usual.", "", f"air after {wait:.0f} h")
    return Words(
        f"{told}; {FOOT_FITS_H:.0f} h is the limit.", "Coarser grains, a mound, or tilt the pot after watering.",
        f"wet foot for {wait:.0f} h", "a coarser mix",
    )  # fmt: skip


def _wet_check(f: Figures) -> Result:
    if f.water is None:
        return unknown(f)
    found = at_most(f.water.wet_share, WET_SHARE_FITS, WET_SHARE_MOST)
    # a figure of the moment after watering: what harms is how long, and that the wet foot says
    status = np.where(found.status == NO, WATCH, found.status).astype(np.int8)
    return Result(found.value, found.low, found.high, status, found.close)


def _wet_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.water is None or not f.plantable[i]:
        return missing_water(f, bool(f.pots.slab[i]))
    wet, share = float(f.water.wet_height_mm[i]), float(f.water.wet_share[i])
    head = f"The wet zone stands {u.mm(wet)} high, {share:.0%} of the soil"
    if share > 0.995:
        head = "The soil stays wet through its whole depth"
    if r.status[i] == FITS:
        return Words(f"{head}; {WET_SHARE_FITS:.0%} is the limit.", "", f"{share:.0%} stays wet")
    return Words(
        f"{head}; {WET_SHARE_FITS:.0%} is the limit.",
        "A coarser mix, a deeper pot or a mound.",
        f"{share:.0%} stays wet",
        "a coarser mix or more depth",
    )


def _days_check(f: Figures) -> Result:
    if f.use is None:
        return unknown(f)
    days = f.use.days_between
    low = at_least(days, LEAST_DAYS, SHORT_DAYS)
    status = np.where(days > LONG_DAYS, WATCH, np.minimum(low.status, WATCH)).astype(np.int8)
    return Result(days, LEAST_DAYS, LONG_DAYS, status, np.where(days > LONG_DAYS, 0.5, low.close))


def _no_drying(f: Figures, i: int) -> Words:
    """Which of the things that drying hangs on is missing, and where it is entered."""
    what, short = "Days between waterings are not known", "drying unknown"
    if f.case.species is None:
        return _no_species(f, what, short)
    if f.case.blend is None or f.water is None or not f.plantable[i]:
        return missing_water(f, bool(f.pots.slab[i]))
    if f.peak is None:
        return Words(f"{what}: no climate is entered.", "Choose a climate in the Reference, under Climate.", short)
    if crown_area_m2(f.case.tree.measure) is None:
        return Words(f"{what}: the crown is not measured.", "Enter both reaches in step 1.", short)
    return Words(f"{what}: no month of this climate lets it grow.", "", short)


def _days_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.use is None:
        return _no_drying(f, i)
    days = float(f.use.days_between[i])
    if not np.isfinite(days):
        return Words(
            "In the hottest weeks it hardly dries.",
            "Check the roots; a smaller pot or a coarser mix.",
            "stays wet",
            "a smaller pot",
        )
    head = f"In the hottest weeks it wants water every {days:.1f} days"
    if r.status[i] == FITS:
        return Words(f"{head}. Look, do not count: the finger decides.", "", f"water every {days:.1f} days")
    if days > LONG_DAYS:
        return Words(f"{head}: it stays wet.", "A smaller pot or a coarser mix.", "stays wet", "a smaller pot")
    often = "four times a day" if days < SHORT_DAYS else "more than twice a day"
    return Words(
        f"{head}: {often}.",
        "A larger pot, a finer mix, or half shade at noon.",
        f"dries in {days:.1f} days",
        "a larger pot",
    )


def _ph_check(f: Figures) -> Result | None:
    species, ph = f.case.species, f.mix_ph
    if species is None or species.ph_low is None or species.ph_high is None or ph is None:
        return None
    miss = max(species.ph_low - ph, ph - species.ph_high, 0.0)
    status = FITS if miss <= 0.1 else WATCH if miss <= 0.8 else NO
    n = len(f.pots)
    return Result(
        np.full(n, ph),
        species.ph_low,
        species.ph_high,
        np.full(n, status, dtype=np.int8),
        np.full(n, max(0.0, 1 - miss)),
    )


def _ph_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    ph, low, high = r.at(i)
    assert ph is not None
    name = f.case.species.common_name if f.case.species else "the tree"
    if r.status[i] == FITS:
        return Words(f"The mix is near pH {ph:.1f}; {name} is at ease from {low:.1f} to {high:.1f}.", "", "mix suits")
    side = "too limy" if high is not None and ph > high else "too sour"
    return Words(
        f"The mix is near pH {ph:.1f}, {side} for {name}, which wants {low:.1f} to {high:.1f}.",
        "Choose a mix of other grains.",
        f"mix {side}",
        "another mix",
    )


RULES = (
    Rule("drain_holes", "water", "share", "craft custom", _drain_check, _drain_words),
    Rule("flat_base", "water", "", "craft custom", _base_check, _base_words, blocks=False, weight=0.3),
    Rule("wet_foot", "water", "h", "species table", _foot_check, _foot_words, weight=2.0),
    Rule("wet_share", "water", "share", "water model", _wet_check, _wet_words, blocks=False, weight=0.5),
    Rule("watering_days", "water", "days", "water model", _days_check, _days_words, blocks=False, weight=0.7),
    Rule("mix_ph", "water", "pH", "species table", _ph_check, _ph_words, weight=0.5, blocks=False),
)
