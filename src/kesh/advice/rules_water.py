"""Rules on water, air and handling: what the pot does to the tree after the work is done."""

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.rule import FITS, NO, WATCH, Result, Rule, Words, at_least, at_most, flags, unknown
from kesh.geometry.columns import carries, words_of
from kesh.model.units import Units
from kesh.reference.tables import material

WET_SHARE_FITS, WET_SHARE_MOST = 0.40, 0.60
LEAST_DAYS, SHORT_DAYS, LONG_DAYS = 0.5, 0.25, 14.0
SAFE_TIP_DEG, LEAST_TIP_DEG = 20.0, 12.0
DRAIN_SHARE_FITS, DRAIN_SHARE_LEAST = 0.020, 0.010
HARD_FROST_C = -2.0


def _drain_check(f: Figures) -> Result:
    known = np.array([p.holes_known for p in f.pots.pots])
    share = f.body.hole_area_cm2 * 100 / np.maximum(f.body.floor_area_mm2, 1.0)
    result = at_least(share, DRAIN_SHARE_FITS, DRAIN_SHARE_LEAST)
    status = np.where(f.has_drain, np.minimum(result.status, WATCH), NO)
    slab = f.pots.slab
    status = np.where(slab, FITS, np.where(known, status, 3)).astype(np.int8)
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


def _missing_water(f: Figures, slab: bool) -> Words:
    if f.case.blend is None:
        return Words("Water and air are not judged: no mix is chosen.", "Choose a mix.", "no mix chosen")
    if slab:
        return Words(
            "A slab carries its mix as a mound: water and air in it are not computed.",
            "Judge it by hand; mounds dry fast.",
            "water not judged on a slab",
        )
    return Words("No room for mix under the headspace.", "Choose a deeper pot.", "no depth for mix", "a deeper pot")


def _air_check(f: Figures) -> Result:
    need = f.case.air_need
    if f.case.blend is None or need is None:
        return unknown(f)
    result = unknown(f) if f.water is None else at_least(f.water.air_mean, need, 0.8 * need)
    bare = ~f.plantable & ~f.pots.slab
    status = np.where(bare, NO, result.status)
    return Result(result.value, need, None, status.astype(np.int8), np.where(bare, 0.0, result.close))


def _air_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    need = f.case.air_need
    if f.water is None or not f.plantable[i]:
        return _missing_water(f, bool(f.pots.slab[i]))
    if need is None:
        return Words("The air the roots want is not known: name the species.", "Name the species.", "species unknown")
    air = float(f.water.air_mean[i])
    if r.status[i] == FITS:
        return Words(f"Air {air:.0%} once drained; {need:.0%} is asked.", "", "air fits")
    return Words(
        f"Air {air:.0%} once drained; {need:.0%} is asked.",
        "Coarser grains, or more depth.",
        f"air {air:.0%}, {need:.0%} asked",
        "a coarser mix",
    )


def _third_check(f: Figures) -> Result:
    need = f.case.air_need
    if f.water is None or need is None:
        return unknown(f)
    result = at_least(f.water.air_bottom_third, need / 2, 0.15 * need)
    status = np.where(result.status == NO, WATCH, result.status) if f.case.layer else result.status
    return Result(result.value, need / 2, None, status.astype(np.int8), result.close)


def _third_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    need = f.case.air_need
    if f.water is None or need is None or not f.plantable[i]:
        return _missing_water(f, bool(f.pots.slab[i]))
    air = float(f.water.air_bottom_third[i])
    if r.status[i] == FITS:
        return Words(f"The lower third keeps {air:.0%} air; {need / 2:.0%} is asked.", "", "lower third breathes")
    return Words(
        f"The lower third keeps {air:.0%} air; {need / 2:.0%} is asked.", "Coarser grains, a mound, or tilt the pot after watering.",
        f"lower third {air:.0%} air", "a coarser mix",
    )  # fmt: skip


def _wet_check(f: Figures) -> Result:
    if f.water is None:
        return unknown(f)
    return at_most(f.water.wet_share, WET_SHARE_FITS, WET_SHARE_MOST)


def _wet_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.water is None or not f.plantable[i]:
        return _missing_water(f, bool(f.pots.slab[i]))
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


def _days_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.use is None:
        missing = "the site's weather" if f.peak is None else "mix, species or crown"
        return Words(
            f"Days between waterings are not known: {missing} is missing.",
            "Enter it in the site or the tree.",
            "drying unknown",
        )
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


def _mass_check(f: Figures) -> Result:
    if f.stand is None:
        return unknown(f)
    own = f.case.brief.limits.lift_kg
    one = f.stand.one_person_kg if own is None else np.minimum(f.stand.one_person_kg, own)
    return at_most(f.stand.mass_wet_kg, one, f.stand.two_person_kg)


def _mass_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.stand is None:
        return Words(
            "Planted mass is not known: mix or tree measures are missing.",
            "Enter height, trunk and spread, and choose a mix.",
            "mass unknown",
        )
    wet = float(f.stand.mass_wet_kg[i])
    _, _, one = r.at(i)
    head = f"Planted and wet it weighs {u.kg(wet)}"
    if r.status[i] == FITS:
        how = "one hand" if wet <= 5 else "one person"
        return Words(f"{head}: {how}, with a straight back.", "", f"{u.kg(wet)} wet")
    if r.status[i] == WATCH:
        return Words(
            f"{head}; about {u.kg(one or 0)} is the usual limit for one person at this width.",
            "Lift it with two.",
            f"{u.kg(wet)}: two people",
        )
    return Words(
        f"{head}: too much for two people at this width.",
        "Use a lifting aid, or a lighter pot.",
        f"{u.kg(wet)}: lifting aid",
        "a lighter pot",
    )


def _tip_check(f: Figures) -> Result:
    return unknown(f) if f.stand is None else at_least(f.stand.tip_angle_deg, SAFE_TIP_DEG, LEAST_TIP_DEG)


def _tip_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if f.stand is None:
        return Words(
            "Tipping is not judged: mix or tree measures are missing.",
            "Enter height, trunk and spread.",
            "tipping unknown",
        )
    angle = float(f.stand.tip_angle_deg[i])
    if angle < 0:
        return Words(
            "It falls over as placed.",
            "Move the trunk toward the middle, or take a wider base.",
            "falls over",
            "a wider base",
        )
    if r.status[i] == FITS:
        return Words(f"Tips over at {angle:.0f}°; {SAFE_TIP_DEG:.0f}° is asked.", "", f"tips at {angle:.0f}°")
    return Words(
        f"Tips over at {angle:.0f}°; {SAFE_TIP_DEG:.0f}° is asked.",
        "A wider base, a coarse heavy layer, or tie it to the bench.",
        f"tips at {angle:.0f}°",
        "a wider base",
    )


def _wind_check(f: Figures) -> Result | None:
    gust = f.case.site.gust_m_s if f.case.site else None
    if gust is None:
        return None
    if f.stand is None:
        return unknown(f)
    lower = np.minimum(f.stand.tip_wind_m_s, f.stand.slide_wind_m_s)
    result = at_least(lower, gust, 0.6 * gust)
    return Result(result.value, gust, None, np.minimum(result.status, WATCH).astype(np.int8), result.close)


def _wind_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, gust, _ = r.at(i)
    if f.stand is None or value is None:
        return Words(
            "Wind is not judged: mix or tree measures are missing.", "Enter height, trunk and spread.", "wind unknown"
        )
    tips = f.stand.tip_wind_m_s[i] <= f.stand.slide_wind_m_s[i]
    word = "tips" if tips else "slides"
    if r.status[i] == FITS:
        return Words(f"A gust {word} it at {value:.0f} m/s; the site has {gust:.0f} m/s.", "", "stands in the wind")
    return Words(
        f"A gust {word} it at {value:.0f} m/s; the site has {gust:.0f} m/s.",
        "Tie the pot to the bench, or shelter it.",
        f"{word} at {value:.0f} m/s",
        "a wider or heavier pot",
    )


def _frost_check(f: Figures) -> Result | None:
    if f.case.site is None or not f.case.site.months:
        return None
    coldest = min(m.tmin_c for m in f.case.site.months)
    if coldest > HARD_FROST_C:
        return None
    names, codes = words_of(f.pots, "material")
    grade = {"yes": FITS, "if_drained": FITS, "no": WATCH}
    status = np.array([grade[material(name).frost_proof] for name in names], dtype=np.int8)[codes]
    return Result(None, None, None, status, np.where(status == FITS, 1.0, 0.3))


def _frost_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    name = material(f.pots.pots[i].material).name.lower()
    if r.status[i] == FITS:
        return Words(f"{name.capitalize()} bears frost when it drains.", "", "bears frost")
    return Words(
        f"{name.capitalize()} does not bear frost, and the site has it.",
        "Winter it frost-free.",
        "splits in frost",
        "a frost-proof pot",
    )


def _budget_check(f: Figures) -> Result | None:
    limit = f.case.brief.limits.budget
    if limit is None:
        return None
    owned = carries(f.pots, "state", ("shelf", "in_use"))
    price = np.array([np.nan if p.price is None else p.price for p in f.pots.pots])
    return at_most(np.where(owned, 0.0, price), limit, 1.2 * limit)


def _budget_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    pot, limit = f.pots.pots[i], f.case.brief.limits.budget or 0.0
    if pot.state in ("shelf", "in_use"):
        return Words("It is on your own shelf.", "", "owned")
    if pot.price is None:
        return Words("The price is not known.", "Ask for it.", "price unknown")
    if r.status[i] == FITS:
        return Words(f"Price {pot.price:.0f} is inside the budget of {limit:.0f}.", "", "inside budget")
    return Words(
        f"Price {pot.price:.0f} is over the budget of {limit:.0f}.",
        "Wait, or have one made.",
        "over budget",
        "a lower price",
    )


RULES = (
    Rule("drain_holes", "water", "share", "craft custom", _drain_check, _drain_words),
    Rule("flat_base", "water", "", "craft custom", _base_check, _base_words, blocks=False, weight=0.3),
    Rule("air", "water", "share", "species table", _air_check, _air_words, weight=1.5),
    Rule("air_lower_third", "water", "share", "species table", _third_check, _third_words, blocks=False),
    Rule("wet_share", "water", "share", "water model", _wet_check, _wet_words),
    Rule("watering_days", "water", "days", "water model", _days_check, _days_words, blocks=False, weight=0.7),
    Rule("mix_ph", "water", "pH", "species table", _ph_check, _ph_words, weight=0.5, blocks=False),
    Rule("lift_mass", "handling", "kg", "lifting guidance", _mass_check, _mass_words),
    Rule("tipping", "handling", "deg", "stability model", _tip_check, _tip_words),
    Rule("wind", "handling", "m/s", "stability model", _wind_check, _wind_words, blocks=False, weight=0.5),
    Rule("frost", "handling", "", "material table", _frost_check, _frost_words, blocks=False, weight=0.5),
    Rule("budget", "handling", "", "brief", _budget_check, _budget_words),
)
