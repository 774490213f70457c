"""One watering without a window: pots side by side, what stays wet, how they dry, and what is said of it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import Figures, figures_for
from kesh.advice.rules.water import FOOT_FITS_H, FOOT_WATCH_H, WET_SHARE_FITS
from kesh.advice.water.watering import DAYS, START_H, Depths, DryingCurve, drying_curve
from kesh.advice.water.year import YearAsked
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.model import Mix, Pot
from kesh.science.season.season import MONTHS
from kesh.science.water.drainage import Tilted, TiltGrid

MOST_TILT = 20


@dataclass(frozen=True)
class Bowl:
    """One pot with the mix in it: its figures, how it dries, or why that is not known."""

    pot: Pot
    f: Figures
    curve: DryingCurve | None
    why: str

    @property
    def plantable(self) -> bool:
        """Whether it takes the mix."""
        return bool(self.f.plantable[0]) and self.f.water is not None

    @property
    def wet_mm(self) -> float:
        """How high the mix stays wet, over the layer."""
        return float(self.f.water.wet_height_mm[0]) if self.plantable and self.f.water is not None else 0.0

    @property
    def wet_share(self) -> float:
        """Share of the soil that stays wet."""
        return float(self.f.water.wet_share[0]) if self.plantable and self.f.water is not None else 0.0

    @property
    def soil_mm(self) -> float:
        """Depth of soil."""
        return float(self.f.soil_depth_mm[0])


@dataclass(frozen=True)
class Watering:
    """What the sheet and the panel show: pots, the first in hand; tilted or not."""

    bowls: tuple[Bowl, ...]
    day: date
    tilt_deg: float = 0.0
    tilt: Tilted | None = None
    tilted: DryingCurve | None = None
    # level of the lowest hole in the tilted pot, its middle at nought, mm
    drain_mm: float = 0.0

    @property
    def first(self) -> Bowl:
        """The pot in hand."""
        return self.bowls[0]


def bowl_of(case: Case, pot: Pot, mix: Mix | None, mound_mm: float | None, day: date, asked: YearAsked) -> Bowl:
    """A pot with a mix that is tried in it."""
    case = replace(case, mix=mix) if mix is not None else case
    if mound_mm is not None and case.planting is not None:
        case = replace(case, planting=case.planting.changed(mound_mm=mound_mm))
    f = figures_for(case, [pot])
    try:
        if f.water is None and case.doubt("mix") is not None:
            return Bowl(pot, f, None, case.doubt("mix").text)  # type: ignore[union-attr]
        return Bowl(pot, f, drying_curve(f, day, asked), "")
    except FieldError as err:
        return Bowl(pot, f, None, f"{err.reason[:1].upper()}{err.reason[1:]}.")


def watering_of(
    stands: Sequence[tuple[Case, Pot]], mix: Mix | None, mound_mm: float | None, day: date, asked: YearAsked, tilt_deg: float,
    grid: TiltGrid | None,
) -> Watering:  # fmt: skip
    """All pots with the mix that is tried. A tilt is told for the first."""
    bowls = tuple(bowl_of(c, p, mix, mound_mm if n == 0 else None, day, asked) for n, (c, p) in enumerate(stands))
    made = Watering(bowls, day, tilt_deg)
    first = bowls[0]
    if tilt_deg <= 0 or grid is None or first.f.case.blend is None or not first.plantable:
        return made
    found = grid.tilted(first.f.case.blend, tilt_deg, 0.0)
    curve = None
    if first.curve is not None:
        curve = drying_curve(first.f, day, asked, drained_off_l=found.drained_l)
    return replace(made, tilt=found, tilted=curve, drain_mm=grid.drain_level_mm(tilt_deg, 0.0))


def title_of(w: Watering, u: Units, hour: int = 0, depths: Depths | None = None) -> str:
    """The result in a line: just drained, or so many hours after."""
    one = w.first
    if hour and depths is not None:
        k = int(np.abs(depths.drying.hours - hour).argmin())
        left = f"{depths.drying.water[k].mean():.0%} water left"
        return f"After {'a day' if hour == 24 else f'{hour // 24} days'}: {left}"
    if not one.plantable:
        return f"{one.pot.name} holds no mix that can be reckoned"
    if one.wet_share > 0.995:
        return "It stays wet through its whole depth"
    return f"The lowest {u.mm(one.wet_mm)} stay wet" if one.wet_mm >= 0.5 else "Nothing stays wet in this mix"


def stats(w: Watering, u: Units) -> tuple[tuple[str, str, str, str], ...]:
    """(what, figure, what is asked, status) of the pot in hand."""
    one = w.first
    f, water = one.f, one.f.water
    if not one.plantable or water is None:
        return ()
    need = f.case.air_need
    air, held = float(water.air_mean[0]), float(water.held_l[0] / water.soil_l[0])
    third = float(water.air_bottom_third[0])
    foot = None if f.wet_foot_h is None else float(f.wet_foot_h[0])
    asks = None if one.curve is None or not np.isfinite(one.curve.asks_h) else one.curve.asks_h
    return (
        ("Air once drained", f"{air:.0%}", "" if need is None else f"{need:.0%} asked", "unknown" if need is None else "fits" if air >= need else "watch"),
        ("In the lowest third", f"{third:.0%}", "" if need is None else f"{need / 2:.0%} asked", "unknown" if need is None else "fits" if third >= need / 2 else "watch"),
        ("Wet foot, growing", "not known" if foot is None else f"{foot:.0f} h" if np.isfinite(foot) else "always", f"≤ {FOOT_FITS_H:.0f} h",
         "unknown" if foot is None else "fits" if foot <= FOOT_FITS_H else "watch" if foot <= FOOT_WATCH_H else "no"),
        ("Wet zone", u.mm(one.wet_mm), f"{one.wet_share:.0%}, ≤ {WET_SHARE_FITS:.0%}", "fits" if one.wet_share <= WET_SHARE_FITS else "watch"),
        ("Water held", u.litres(float(water.held_l[0])), f"{held:.0%} of the mix", ""),
        (f"Asks again, {MONTHS[w.day.month - 1]}", "……" if one.curve is None else "after weeks" if asks is None else span_words(asks), "no rain", ""),
    )  # fmt: skip


def span_words(hours: float) -> str:
    """Hours as people say them: hours up to two days, then days."""
    return f"{hours:.0f} h" if hours < 48 else f"{hours / 24:.1f} days"


def tilt_told(w: Watering, u: Units) -> str:
    """What a tilt does, in a sentence."""
    if w.tilt is None:
        return "Tilt the pot for a minute after watering: what stands at the low end runs out."
    t = w.tilt
    if t.drained_l < 0.005:
        return f"At {w.tilt_deg:.0f}° nothing runs out: the holes lie too far from the low end."
    if w.tilted is not None and w.tilted.share[0] <= w.tilted.dry_line:
        return f"At {w.tilt_deg:.0f}° so much runs out, {u.litres(t.drained_l)}, that it asks for water again at once: tilt it less."
    left = f"{t.wet_share:.0%} of the soil stays wet"
    gain = ""
    if (
        w.tilted is not None
        and w.first.curve is not None
        and np.isfinite(w.first.curve.wet_h)
        and w.first.curve.wet_h > 0
    ):
        after = w.tilted.wet_h
        gain = f"; the wet foot lasts {after:.0f} h for {w.first.curve.wet_h:.0f}" if np.isfinite(after) else ""
    return f"At {w.tilt_deg:.0f}° {u.litres(t.drained_l)} run out, {left}{gain}. Laid flat again, the water does not come back."


def at_words(w: Watering, hour: int) -> str:
    """The pot in hand at an hour after the watering."""
    if w.first.curve is None:
        return ""
    clock = (START_H + hour) % 24
    day = w.day + timedelta(days=(START_H + hour) // 24)
    share = float(w.first.curve.share[min(hour, DAYS * 24)])
    return f"{day.day} {MONTHS[day.month - 1]}, {clock}:00: {share:.0%} water"


def detail_words(depths: Depths | None, bowl: Bowl) -> str:
    """The detailed figure beside the simple one, and that they differ where they do."""
    if depths is None or bowl.curve is None:
        return ""
    if not depths.drying.converged:
        return "Water by depth did not settle; the simple figures stand."
    simple, after = bowl.curve.wet_h, depths.air_after_h
    if after is None:
        return "By depth, the lowest third has no air yet after three days."
    if not np.isfinite(simple):
        return f"By depth the roots have air after {after:.0f} h."
    if max(after, simple) < 0.5:
        return "The roots have the air they want at once."
    told = f"Air after {after:.0f} h reckoned by depth, {simple:.0f} h by the simple bucket"
    far = abs(after - simple) > max(6.0, 0.5 * simple)
    return f"{told}: they differ, look for yourself." if far else f"{told}."
