"""Rules on handling: what it weighs, whether it tips or the wind takes it, frost and price."""

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words, at_least, at_most, softened, unknown
from kesh.advice.rules.water import missing_water
from kesh.base.status import FITS, NO, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.geometry.columns import carries, words_of
from kesh.geometry.outline import Floats
from kesh.reference.tables import known_material

SAFE_TIP_DEG, LEAST_TIP_DEG = 20.0, 12.0
HARD_FROST_C = -2.0
# share of the site's gust that a pot bears untied [J]
BORNE_GUST = 0.6


def _no_mass(f: Figures, i: int) -> bool:
    return f.stand is None or not bool(np.isfinite(f.stand.mass_wet_kg[i]))


def _not_weighed(f: Figures, i: int, what: str, short: str) -> Words:
    """Which of the things that mass hangs on is missing, and where it is entered."""
    pot = f.pots.pots[i]
    if known_material(pot.material) is None and pot.measured_mass_kg is None:
        return Words(f"{what}: material '{pot.material}' is not in the table.", "Choose it on the Shelf, or weigh the pot.", short)  # fmt: skip
    if f.tree_body is None:
        return Words(f"{what}: height, trunk or reach of the tree is missing.", "Enter them in step 1.", short)
    if f.case.blend is None:
        words = missing_water(f, False)
        return Words(f"{what}: no mix that can be reckoned is chosen.", words.remedy, short)
    if pot.profile.kind == "slab":
        return Words(
            f"{what}: a slab carries its mix as a mound, which is not weighed here.",
            "Weigh it when it is planted.",
            short,
        )
    return Words(
        f"{what}: there is no room for mix under the headspace.", "Choose a deeper pot.", short, "a deeper pot"
    )


def lift_alone_kg(f: Figures) -> Floats:
    """What one person lifts at this width, or less where the brief says so, (N,)."""
    assert f.stand is not None
    own = f.case.brief.limits.lift_kg
    return f.stand.one_person_kg if own is None else np.minimum(f.stand.one_person_kg, own)


def on_wheels(f: Figures) -> bool:
    """Whether such a planting is moved on wheels and never lifted: fruit in tubs."""
    p = f.case.planting
    return f.case.purpose == "crop" or (p is not None and p.tub is not None)


def _mass_check(f: Figures) -> Result:
    """One person, else two, as usual; beyond what two bear it takes a trolley or a hoist, and no reason typed makes it lighter."""
    if f.stand is None:
        return unknown(f)
    alone, two, most = lift_alone_kg(f), f.stand.two_person_kg, f.stand.two_person_most_kg
    wet = f.stand.mass_wet_kg
    own = f.case.brief.limits.lift_kg is not None
    result = at_most(wet, alone if own else np.maximum(alone, two), np.maximum(alone, most))
    status = np.where((result.status == NO) & on_wheels(f), WATCH, result.status).astype(np.int8)
    return Result(result.value, result.low, alone, status, result.close)


def _mass_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if _no_mass(f, i):
        return _not_weighed(f, i, "Planted mass is not known", "mass unknown")
    assert f.stand is not None
    wet, one = float(f.stand.mass_wet_kg[i]), r.at(i)[2] or 0.0
    two, most = float(f.stand.two_person_kg[i]), float(f.stand.two_person_most_kg[i])
    head = f"Planted and wet it weighs {u.kg(wet)}"
    if wet <= one + 1e-9:
        how = "one hand" if wet <= 5 else "one person"
        return Words(f"{head}: {how}, with a straight back.", "", f"{u.kg(wet)} wet")
    if wet <= two + 1e-9:
        own = f.case.brief.limits.lift_kg is not None and one == f.case.brief.limits.lift_kg
        limit = "the brief's limit for you" if own else "usual for one at this width"
        return Words(
            f"{head}: two people lift it; {u.kg(one)} is {limit}.",
            "Lift it with two." if own else "",
            f"{u.kg(wet)}: two people",
        )
    if wet <= most + 1e-9:
        return Words(
            f"{head}: heavy for two people at this width, {u.kg(two)} is usual.",
            "A third hand, or a trolley.",
            f"{u.kg(wet)}: heavy for two",
        )
    if on_wheels(f):
        return Words(
            f"{head}: nobody lifts that. It stands on wheels or is moved with a trolley.",
            "Plant it where it stands.",
            f"{u.kg(wet)}: on wheels",
        )
    return Words(
        f"{head}: too much for two people at this width.", "A trolley, a hoist or three people; or a lighter pot.",
        f"{u.kg(wet)}: hoist or three people", "a lighter pot",
    )  # fmt: skip


def _tip_check(f: Figures) -> Result:
    return unknown(f) if f.stand is None else at_least(f.stand.tip_angle_deg, SAFE_TIP_DEG, LEAST_TIP_DEG)


def _tip_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    if _no_mass(f, i):
        return _not_weighed(f, i, "Tipping is not judged", "tipping unknown")
    assert f.stand is not None
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
    # every tree in a small pot goes over in the worst gust unless it is tied to its bench: that is usual and no fault of the pot
    result = at_least(lower, BORNE_GUST * gust, 0.0)
    return Result(result.value, BORNE_GUST * gust, None, softened(result.status), result.close)


def _wind_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    value, gust = r.at(i)[0], f.case.site.gust_m_s if f.case.site else None
    if _no_mass(f, i) or value is None or f.stand is None:
        return _not_weighed(f, i, "Wind is not judged", "wind unknown")
    tips = f.stand.tip_wind_m_s[i] <= f.stand.slide_wind_m_s[i]
    word = "tips" if tips else "slides"
    if r.status[i] == FITS:
        tie = (
            "" if gust is None or value >= gust else " In such a storm it is tied to its bench, as usual for its size."
        )
        return Words(
            f"A gust {word} it at {value:.0f} m/s; the site has {gust:.0f} m/s.{tie}", "", "stands in the wind"
        )
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
    rows = [known_material(name) for name in names]
    status = np.array([UNKNOWN if row is None else grade[row.frost_proof] for row in rows], dtype=np.int8)[codes]
    return Result(None, None, None, status, np.where(status == FITS, 1.0, 0.3))


def _frost_words(f: Figures, r: Result, i: int, u: Units) -> Words:
    row = known_material(f.pots.pots[i].material)
    if row is None:
        given = f.pots.pots[i].material
        return Words(f"Whether '{given}' bears frost is not known: it is not in the table.", "Choose the material on the Shelf.", "frost not judged")  # fmt: skip
    name = row.name.lower()
    if r.status[i] == FITS:
        return Words(f"{name.capitalize()} bears frost when it drains.", "", "bears frost")
    return Words(
        f"{name.capitalize()} does not bear frost, and the site has it: a wall that is wet through may split below −2 °C.",
        "Winter it frost-free, or dry and under a roof.",
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
    Rule("lift_mass", "handling", "kg", "lifting guidance", _mass_check, _mass_words),
    Rule("tipping", "handling", "deg", "stability model", _tip_check, _tip_words),
    Rule("wind", "handling", "m/s", "stability model", _wind_check, _wind_words, weight=0.5),
    Rule("frost", "handling", "", "material table", _frost_check, _frost_words, weight=0.5),
    Rule("budget", "handling", "", "brief", _budget_check, _budget_words),
)
