"""What a designed pot must obey, each with its value, its limit, and where it is at ease; and how far it is from it."""

from collections.abc import Sequence

import numpy as np

from kesh.advice.design.limit import Limit
from kesh.advice.design.space import Wishes
from kesh.advice.design.special import special_limits
from kesh.advice.figures import Figures
from kesh.advice.rules.handling import LEAST_TIP_DEG, SAFE_TIP_DEG
from kesh.advice.rules.size import REFINED, SLACK
from kesh.advice.rules.water import FOOT_FITS_H, FOOT_WATCH_H, LEAST_DAYS, LONG_DAYS, SHORT_DAYS

UNDERCUT_MM = 0.5
WIND_LEAST = 0.6


def root_limit(f: Figures) -> tuple[Limit, ...]:
    """The one limit on the roots, which costs the most to compute; none while they are not known."""
    if f.case.roots is None or f.case.bears_share is None or f.roots is None:
        return ()
    most = f.case.bears_share
    share = f.roots.removed_feeder_share
    return (Limit("root_removal", "feeder roots that come off", "share", share, most, most, True, True),)


def limits(f: Figures, wishes: Wishes) -> tuple[Limit, ...]:
    """All hard limits that can be judged for this case; what was not measured is left out."""
    return (*limits_but_roots(f, wishes), *root_limit(f))


def limits_but_roots(f: Figures, wishes: Wishes) -> tuple[Limit, ...]:
    """Those on shape, water, mass and stability."""
    case, own = f.case, f.case.brief.limits
    found = [Limit("lift_out", "lifts straight out", "mm", f.undercut[0], UNDERCUT_MM, UNDERCUT_MM, True, False)]
    if f.wet_foot_h is not None and not (case.species is not None and case.species.class_key == "wetland"):
        found.append(
            Limit(
                "wet_foot", "hours until the roots have air", "h", f.wet_foot_h, FOOT_WATCH_H, FOOT_FITS_H, True, True
            )
        )
    if f.use is not None:
        days = f.use.days_between
        found += [Limit("watering_days", "days between waterings", "days", days, SHORT_DAYS, LEAST_DAYS, False, True),
                  Limit("dries_at_all", "days between waterings", "days", days, 2 * LONG_DAYS, LONG_DAYS, True, False)]  # fmt: skip
    if f.stand is not None:
        alone = wishes.people == 1
        bears = f.stand.one_person_kg if alone else f.stand.two_person_most_kg
        if alone and own.lift_kg is not None:
            bears = np.minimum(bears, own.lift_kg)
        easy = bears if alone else f.stand.two_person_kg
        found += [Limit("lift_mass", "mass planted and wet", "kg", f.stand.mass_wet_kg, bears, easy, True, False),
                  Limit("tipping", "tipping angle", "deg", f.stand.tip_angle_deg, LEAST_TIP_DEG, SAFE_TIP_DEG, False, True)]  # fmt: skip
        gust = case.site.gust_m_s if case.site else None
        if gust:
            wind = np.minimum(f.stand.tip_wind_m_s, f.stand.slide_wind_m_s)
            found.append(Limit("wind", "wind it stands", "m/s", wind, WIND_LEAST * gust, gust, False, True))
    found += _bands(f)
    whole = f.pots.body_height + f.pots.feet + case.seat.raise_mm + (case.tree.measure.height_mm or 0.0)
    for code, words, value, limit in (
        ("bench_length", "length on the bench", f.overall[0], own.bench_length_mm),
        ("doorway", "height through the door", whole, own.doorway_mm),
        ("car_height", "height in the car", whole, own.car_height_mm),
        ("show_height", "height with its stand", whole + case.brief.stand_mm, own.show_height_mm),
    ):
        if limit is not None:
            found.append(Limit(code, words, "mm", value, limit, limit, True, False))
    return (*found, *special_limits(f), *_room(f, wishes))


def _bands(f: Figures) -> list[Limit]:
    """Depth and length as the school judges them where looks count: as far outside the band as the rule still watches."""
    case = f.case
    if not (case.school.purposes[case.purpose].looks_count and case.tree.stage in REFINED):
        return []
    found = []
    for code, words, value, band in (
        ("depth_band", "depth for the school", f.pots.inner_depth, case.bands.depth),
        ("length_band", "length for the school", f.pots.length, case.bands.length),
    ):
        if code in case.overrides or code in case.off or band.low is None or band.high is None:
            continue
        low, high = band.low * (1 - SLACK), band.high * (1 + SLACK)
        found += [Limit(code, words, "mm", value, high, band.high, True, False),
                  Limit(f"{code}_least", words, "mm", value, low, band.low, False, False)]  # fmt: skip
    return found


def _room(f: Figures, wishes: Wishes) -> Sequence[Limit]:
    """Kiln or bed: the longer side lies along its longer side; clay goes in wet."""
    if wishes.room_mm is None:
        return ()
    grow = 1 / (1 - wishes.shrinkage)
    long, short = max(wishes.room_mm[:2]), min(wishes.room_mm[:2])
    sizes = (
        (np.maximum(*f.overall), long, "length"),
        (np.minimum(*f.overall), short, "width"),
        (f.pots.body_height + f.pots.feet, wishes.room_mm[2], "height"),
    )
    return [
        Limit(f"room_{name}", f"{name} in kiln or printer", "mm", value * grow, room, room, True, False)
        for value, room, name in sizes
    ]
