"""Rules on water and air: what the pot does to the tree after the work is done."""

from dataclasses import replace

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, at_least, at_most, flags, softened, unknown
from kesh.base.status import FITS, NO, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.geometry.holes import farthest_mm
from kesh.reference.starters import WADES_NEED
from kesh.science.season.season import MONTHS
from kesh.science.stand.stability import crown_area_m2

WET_SHARE_FITS, WET_SHARE_MOST = 0.40, 0.60
# days between waterings in the hottest weeks: twice a day is usual for bonsai, oftener than four times asks for another pot [J]
LEAST_DAYS, SHORT_DAYS, LONG_DAYS = 0.25, 0.125, 14.0
# share of the floor that holes take at least, and from a corner to the nearest at most [J]
DRAIN_SHARE_FITS, FARTHEST_MM = 0.005, 180.0
# how far the mix may lie beside what the species wants, pH [J]
PH_BORNE = 0.3
# hours in growth until the roots have air again: usual, and to be watched [J]
FOOT_FITS_H, FOOT_WATCH_H = 24.0, 48.0
# a plant that stores water is watered so much less often, and its roots have air for the rest of the time [J]
RARELY = 3.0


def _drain_check(f: Figures) -> Result:
    """Enough of them, and none too far from a corner; holes that nobody has looked at are a question."""
    known = f.pots.each(lambda p: p.holes_known)
    share = f.body.hole_area_cm2 * 100 / np.maximum(f.body.floor_area_mm2, 1.0)
    near = np.zeros(len(f.pots), bool) if f.pots.which is not None else farthest_mm(f.pots) > FARTHEST_MM
    few = (share < DRAIN_SHARE_FITS - 1e-12) | near
    status = np.where(f.has_drain, np.where(few, WATCH, FITS), NO)
    slab = f.pots.slab
    status = np.where(slab, FITS, np.where(known, status, UNKNOWN)).astype(np.int8)
    close = np.where(status == WATCH, np.clip(0.4 + 0.5 * share / DRAIN_SHARE_FITS, 0.4, 0.9), 1.0)
    return Result(
        share, DRAIN_SHARE_FITS, None, status, np.where(slab, 1.0, np.where(~known, 0.5, np.where(f.has_drain, close, 0.0)))
    )  # fmt: skip


def _drain_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    pot = f.pots.pots[i]
    share = float(f.body.hole_area_cm2[i] * 100 / max(f.body.floor_area_mm2[i], 1.0))
    if pot.profile.kind == "slab":
        return Words("A slab drains over its edge.", "", "drains over the edge")
    if not pot.holes_known:
        return Words(
            "Nobody has looked at its drain holes yet; water is reckoned with what is usual for its size.",
            "Turn the pot over and enter them.",
            "holes unknown",
            "its holes entered",
        )
    if not f.has_drain[i]:
        return Words(
            "No drain hole: water cannot leave.",
            "Drill one before use; drill wet, with eye protection.",
            "no drain hole",
            "drill drain holes",
        )
    if r.status[i] == FITS:
        return Words(
            f"Drain holes take {share:.1%} of the floor, and no corner is far from one.", "", "holes are enough"
        )
    size = u.mm(round(max(h.diameter_mm for h in pot.drain_holes)))
    if share < DRAIN_SHARE_FITS:
        text = f"Drain holes take {share:.2%} of the floor; {DRAIN_SHARE_FITS:.1%} is the least."
        return Words(text, f"Drill one more, Ø {size}.", "few drain holes", "one more drain hole")
    far = u.mm(float(farthest_mm(f.pots)[i]))
    return Words(
        f"A corner lies {far} from the nearest drain hole; up to {u.mm(FARTHEST_MM)} drains well.",
        f"One more hole, Ø {size}, toward that corner; or tilt the pot after watering.",
        "a corner far from a hole", "one more drain hole",
    )  # fmt: skip


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


def stores_water(f: Figures) -> bool:
    """Whether a plant stores water and is watered rarely."""
    return f.case.species is not None and f.case.species.stores_water


def wades(f: Figures) -> bool:
    """Whether a species asks for hardly any air: it is never judged too wet."""
    return f.case.air_need is not None and f.case.air_need <= WADES_NEED


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
        found = unknown(f)
        return (
            replace(found, status=np.where(f.pots.slab, FITS, found.status).astype(np.int8)) if f.case.blend else found
        )
    bare = ~f.plantable & ~f.pots.slab
    wetland = wades(f)
    if hours is None:
        # how long is not known: at once is, and the rest is to be seen
        breathes = wetland | ~(short > 0)
        result = Result(
            None, None, FOOT_FITS_H, np.where(breathes, FITS, WATCH).astype(np.int8), np.where(breathes, 1.0, 0.5)
        )
        status = np.where(np.isnan(short), UNKNOWN, result.status)
    else:
        times = RARELY if stores_water(f) else 1.0
        result = at_most(hours, times * FOOT_FITS_H, times * FOOT_WATCH_H)
        status = np.where(wetland & (result.status != UNKNOWN), FITS, result.status)
    # a slab carries its mix as a mound: it drains over its edge, and what is open is how fast it dries
    status = np.where(bare, NO, np.where(f.pots.slab, FITS, status)).astype(np.int8)
    return Result(result.value, None, FOOT_FITS_H, status, np.where(bare, 0.0, result.close))


def _foot_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    need, hours = f.case.air_need, f.wet_foot_h
    if f.water is None or need is None or not f.plantable[i]:
        return missing_water(f, bool(f.pots.slab[i]))
    third, mean = float(f.water.air_bottom_third[i]), float(f.water.air_mean[i])
    drained = f"Just drained, the mix holds {mean:.0%} air and its lowest third {third:.0%}"
    if wades(f) and f.case.species is not None:
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
    # a figure of the moment after watering: what harms is how long, and where that is known the wet foot says it
    known = f.wet_foot_h is not None or wades(f)
    status = np.where(found.status == UNKNOWN, UNKNOWN, FITS if known else softened(found.status)).astype(np.int8)
    return Result(found.value, found.low, found.high, status, found.close)


def _wet_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.water is None or not f.plantable[i]:
        return missing_water(f, bool(f.pots.slab[i]))
    wet, share = float(f.water.wet_height_mm[i]), float(f.water.wet_share[i])
    head = f"The wet zone stands {u.mm(wet)} high, {share:.0%} of the soil"
    if share > 0.995:
        head = "The soil stays wet through its whole depth"
    if r.status[i] == FITS:
        limit = (
            f"{WET_SHARE_FITS:.0%} is usual" if share <= WET_SHARE_FITS else "what counts is how long, see the wet foot"
        )
        return Words(f"{head}; {limit}.", "", f"{share:.0%} stays wet")
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
    status = np.where(days > LONG_DAYS, WATCH, softened(low.status)).astype(np.int8)
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
    # another mix mends it: a thing to watch, whatever the figure
    status = FITS if miss <= PH_BORNE else WATCH
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
    Rule("flat_base", "water", "", "craft custom", _base_check, _base_words, weight=0.3),
    Rule("wet_foot", "water", "h", "species table", _foot_check, _foot_words, weight=2.0),
    Rule("wet_share", "water", "share", "water model", _wet_check, _wet_words, weight=0.5),
    Rule("watering_days", "water", "days", "water model", _days_check, _days_words, weight=0.7),
    Rule("mix_ph", "water", "pH", "species table", _ph_check, _ph_words, weight=0.5),
)
