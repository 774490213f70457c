"""How cold the root zone of a pot becomes: heat through shells, with the water in them freezing (docs/methods.md, "frost in a pot").

One dimension, so a few kelvin at best. Enthalpy method (Voller and Cross 1981); surface after Watmuff and others (1977).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from threading import Lock

import numpy as np
from cachetools import LRUCache

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats

SHELLS, OUTER_MM = 20, 15.0
# what the ground gives a pot over a spell of days: 1 W/mK over the depth that three days reach [J]
GROUND_W_M2K = 2.8
STEFAN, EMISSIVITY, FROST_K = 5.67e-8, 0.92, 273.15
SKY_W_M2 = {"clear": 60.0, "half": 30.0, "cloudy": 20.0, "none": 0.0}
# J/m3 K of grains, water and ice; J/m3 of melting
GRAINS, WATER, ICE, MELTING = 2600.0 * 800.0, 4.18e6, 1.93e6, 334e6
FREEZES_OVER_K = 0.5
# a spell of three days, six kelvin between night and day; the night is sought to this
SPELL_H, SWING_K = 72.0, 6.0
NEVER_C = -60.0
# seconds of a step when nights are sought and in a single run, most of Newton's steps, nights tried at once
STEP_S, FINE_S, NEWTON, CLOSE = 600.0, 300.0, 12, 7
# the first look takes longer steps and a wider margin; nights from what the roots bear, closest where the answer usually lies
FIRST_LOOK_K = np.array([-60.0, -35.0, -22.0, -14.0, -9.0, -6.0, -3.5, -1.5, 0.5, 2.5, 5.0, 9.0, 30.0])
LOOK_S, LOOK_K = 1800.0, 0.8
# J/m3 that a step may leave unexplained: a ten thousandth of a kelvin
ENOUGH_J = 500.0


@dataclass(frozen=True)
class SoilBody:
    """A root zone: metres and square metres inside the pot, its pores and water as shares, its wall and where it stands."""

    length_m: float
    width_m: float
    depth_m: float
    volume_m3: float
    top_m2: float
    side_m2: float
    bottom_m2: float
    porosity: float
    water: float
    wall_m: float
    wall_w_mk: float
    # on a bench the bottom is open to the air; on the ground it has the ground's warmth instead
    on_bench: bool = True
    # what is laid over top and sides, m2K/W; how warm the ground is below the frost, where the pot stands on it
    about_m2k_w: float = 0.0
    ground_c: float = 1.0

    def __post_init__(self) -> None:
        for name in ("length_m", "width_m", "depth_m", "volume_m3", "wall_m", "wall_w_mk"):
            if not getattr(self, name) > 0:
                raise FieldError(name, f"{getattr(self, name):g} is not above nought")
        if self.water > self.porosity + 1e-9:
            raise FieldError("water", f"{self.water:.2f} is more than the pores hold, {self.porosity:.2f}")

    @property
    def radius_m(self) -> float:
        """From the middle to the nearest open side."""
        deep = self.depth_m / 2 if self.on_bench else self.depth_m
        return min(deep, self.width_m / 2, self.length_m / 2)

    @property
    def exposed_m2(self) -> float:
        """What is open to the air."""
        return self.top_m2 + self.side_m2 + (self.bottom_m2 if self.on_bench else 0.0)

    @property
    def shape(self) -> float:
        """0 like a slab, 1 like a cylinder, 2 like a sphere: the area grows with the radius to this power."""
        return float(np.clip(self.radius_m * self.exposed_m2 / self.volume_m3 - 1, 0, 2))


def surface_w_m2k(wind_m_s: float, kelvin: float = FROST_K) -> float:
    """Heat that a surface gives to air and sky for each kelvin."""
    return float(2.8 + 3.0 * wind_m_s + 4 * EMISSIVITY * STEFAN * kelvin**3)


@dataclass(frozen=True)
class ColdRun:
    """Degrees C over hours: mean of the outer 15 mm, of all, and the centre."""

    hours: Floats
    outer_c: Floats
    mean_c: Floats
    centre_c: Floats

    def hours_until(self, limit_c: float) -> float | None:
        """Hours until the outer roots are as cold as a limit; None if they never are."""
        below = np.flatnonzero(self.outer_c <= limit_c)
        if not len(below):
            return None
        k = int(below[0])
        if k == 0:
            return float(self.hours[0])
        a, b = self.outer_c[k - 1], self.outer_c[k]
        return float(self.hours[k - 1] + (a - limit_c) / max(a - b, 1e-12) * (self.hours[k] - self.hours[k - 1]))


class _Shells:
    """The body in shells of equal thickness."""

    def __init__(self, body: SoilBody, wind_m_s: float, sky: str) -> None:
        self.gs, a = body.shape, body.radius_m
        edges = np.linspace(0, a, SHELLS + 1)
        self.dx = a / SHELLS
        self.area = edges**self.gs if self.gs > 0 else np.ones(SHELLS + 1)
        self.volume = np.diff(edges ** (self.gs + 1)) / (self.gs + 1)
        middle = (edges[1:] + edges[:-1]) / 2
        # shares of the outer 15 mm in each shell
        inside = max(a - OUTER_MM / 1000, 0.0)
        low = np.clip(edges[:-1], inside, None)
        self.outer = np.clip(edges[1:] ** (self.gs + 1) - low ** (self.gs + 1), 0, None)
        self.middle = middle
        grains = (1 - body.porosity) * GRAINS
        self.c_u, self.c_f = grains + body.water * WATER, grains + body.water * ICE
        latent = body.water * MELTING
        self.h_f = -(latent + FREEZES_OVER_K * (self.c_u + self.c_f) / 2)
        self.k_u = 0.12 + 0.85 * body.water / max(body.porosity, 1e-9)
        self.k_f = self.k_u * (1 + 0.9 * body.water / max(body.porosity, 1e-9))
        open_, wall = surface_w_m2k(wind_m_s), body.wall_m / body.wall_w_mk
        top, walled = 1 / (1 / open_ + body.about_m2k_w), 1 / (1 / open_ + wall + body.about_m2k_w)
        sides = body.side_m2 + (body.bottom_m2 if body.on_bench else 0.0)
        below = 0.0 if body.on_bench else GROUND_W_M2K * body.bottom_m2
        total = top * body.top_m2 + walled * sides + below
        self.u = total / body.exposed_m2
        # what the open top loses to the sky, and what the ground gives, as kelvin of the air about it
        self.sky_k = top * body.top_m2 * (-EMISSIVITY * SKY_W_M2[sky]) / open_ / total
        self.by_air, self.from_ground_k = 1 - below / total, below / total * body.ground_c

    def temperature(self, heat: Floats) -> Floats:
        """Degrees C of a heat content, J/m3, nought at 0 degrees unfrozen."""
        return np.asarray(_Stack((self,)).temperature(heat[None])[0])

    def heat(self, celsius: float) -> float:
        """The other way."""
        if celsius >= 0:
            return celsius * self.c_u
        if celsius > -FREEZES_OVER_K:
            return -celsius * self.h_f / FREEZES_OVER_K
        return self.h_f + (celsius + FREEZES_OVER_K) * self.c_f


class _Stack:
    """Bodies one under the other, a row each, so that all of them march together."""

    def __init__(self, rows: Sequence[_Shells]) -> None:
        def column(name: str) -> Floats:
            return np.array([getattr(one, name) for one in rows], float)[:, None]

        self.c_u, self.c_f, self.h_f = column("c_u"), column("c_f"), column("h_f")
        self.k_u, self.k_more = column("k_u"), column("k_f") - column("k_u")
        self.dx, self.u = column("dx"), column("u")
        self.by_air, self.aside = column("by_air")[:, 0], (column("from_ground_k") + column("sky_k"))[:, 0]
        self.area, self.volume = np.array([one.area for one in rows]), np.array([one.volume for one in rows])
        names = {id(one): n for n, one in enumerate(dict.fromkeys(rows))}
        self.body = np.array([names[id(one)] for one in rows])

    def temperature(self, heat: Floats) -> Floats:
        """Degrees C of heat contents (C, shells), J/m3."""
        part = heat * (-FREEZES_OVER_K / self.h_f)
        frozen = -FREEZES_OVER_K + (heat - self.h_f) / self.c_f
        return np.where(heat >= 0, heat / self.c_u, np.where(heat > self.h_f, part, frozen))

    def slope(self, heat: Floats) -> Floats:
        """How much warmer for each J/m3."""
        return np.where(heat >= 0, 1 / self.c_u, np.where(heat > self.h_f, -FREEZES_OVER_K / self.h_f, 1 / self.c_f))

    def links(self, celsius: Floats) -> tuple[Floats, Floats]:
        """(heat carried between shells for each kelvin (C, n - 1), out of the last for each kelvin (C,)), W/K for a wedge."""
        k = self.k_u + self.k_more * np.minimum(np.maximum(celsius * (-1 / FREEZES_OVER_K), 0.0), 1.0)
        faces = 2 * k[:, 1:] * k[:, :-1] / (k[:, 1:] + k[:, :-1]) / self.dx * self.area[:, 1:-1]
        return faces, self.area[:, -1] / (1 / self.u[:, 0] + self.dx[:, 0] / (2 * k[:, -1]))


def _march(rows: Sequence[_Shells], air_c: Floats, start_c: Floats, step_s: float) -> Floats:
    """Temperatures (steps + 1, C, shells) of bodies, each in its own air (C, steps) from its own even start (C,).

    Implicit, so that no step is too long to be steady: Newton's steps on the heat content, all bodies in one band. Those of
    one body end together, as if it marched alone.
    """
    from scipy.linalg.lapack import dgtsv

    stack, steps = _Stack(rows), air_c.shape[1]
    count, bodies = len(rows), int(stack.body.max()) + 1
    heat = np.repeat(np.array([[one.heat(float(t))] for one, t in zip(rows, start_c, strict=True)]), SHELLS, axis=1)
    found = np.empty((steps + 1, count, SHELLS))
    t = found[0] = stack.temperature(heat)
    per = step_s / stack.volume
    gain, loss, up, down = (np.zeros((count, SHELLS)) for _ in range(4))
    for n in range(steps):
        inner, outer = stack.links(t)
        before, outside = heat, stack.by_air * air_c[:, n] + stack.aside
        loss.fill(0.0)
        loss[:, :-1] += inner
        loss[:, 1:] += inner
        loss[:, -1] += outer
        loss *= per
        right, left = per[:, :-1] * inner, per[:, 1:] * inner
        for _ in range(NEWTON):
            flow = inner * (t[:, :-1] - t[:, 1:])
            gain[:, 1:] = flow
            gain[:, 0] = 0.0
            gain[:, :-1] -= flow
            gain[:, -1] -= outer * (t[:, -1] - outside)
            off = heat - before - per * gain
            wrong = np.abs(off).max(axis=1)
            if bodies == 1:
                going = wrong.max() >= ENOUGH_J
                if not going:
                    break
            else:
                worst = np.zeros(bodies)
                np.maximum.at(worst, stack.body, wrong)
                still = worst[stack.body] >= ENOUGH_J
                if not still.any():
                    break
                off[~still] = 0.0
            # the band: what each shell's own heat and its neighbours' change of it
            slope = stack.slope(heat)
            np.multiply(right, -slope[:, 1:], out=up[:, 1:])
            np.multiply(left, -slope[:, :-1], out=down[:, :-1])
            own = 1 + loss * slope
            *_, step, failed = dgtsv(down.ravel()[:-1], own.ravel(), up.ravel()[1:], off.ravel())
            if failed:
                raise FieldError("soil", "the heat in the pot cannot be reckoned")
            heat = heat - step.reshape(t.shape)
            t = stack.temperature(heat)
        found[n + 1] = t
    return found


def _air(air_c: Callable[[float], float], hours: float, step_s: float) -> Floats:
    """The air at the end of each step."""
    return np.array([air_c((n + 1) * step_s / 3600) for n in range(round(hours * 3600 / step_s))])


def cold_run(
    body: SoilBody, air_c: Callable[[float], float], hours: float, start_c: float, *, wind_m_s: float = 1.0, sky: str = "clear"
) -> ColdRun:  # fmt: skip
    """The root zone through some hours of air, from an even start."""
    shells = _Shells(body, wind_m_s, sky)
    t = _march((shells,), _air(air_c, hours, FINE_S)[None], np.array([start_c]), FINE_S)[:, 0]
    times = np.arange(len(t)) * FINE_S / 3600
    return ColdRun(times, t @ shells.outer / shells.outer.sum(), t @ shells.volume / shells.volume.sum(), t[:, 0])


def spell(night_c: float, swing_k: float = SWING_K) -> Callable[[float], float]:
    """Air over hours from midnight: coldest at three in the morning, warmest at three in the afternoon."""
    return lambda h: night_c + swing_k / 2 + swing_k / 2 * float(np.cos(2 * np.pi * (h - 15) / 24))


# a body, what its roots bear, the wind and the sky over it
Stand = tuple[SoilBody, float, float, str]
_NIGHTS: LRUCache[Stand, float] = LRUCache(256)
_LOCK = Lock()


def critical_night_c(body: SoilBody, limit_c: float, *, wind_m_s: float = 1.0, sky: str = "clear") -> float:
    """The night of a spell of three days that brings the outer roots to their limit, degrees C.

    The spell finds the soil at the mean of its days, unfrozen. Not below -60.
    """
    return critical_nights_c(((body, limit_c, wind_m_s, sky),))[0]


def critical_nights_c(stands: Sequence[Stand]) -> tuple[float, ...]:
    """The same for several bodies, each as if it stood alone; they march together, which takes little longer than one."""
    with _LOCK:
        known = {stand: _NIGHTS[stand] for stand in stands if stand in _NIGHTS}
    known |= _sought([stand for stand in dict.fromkeys(stands) if stand not in known])
    with _LOCK:
        _NIGHTS.update(known)
    return tuple(known[stand] for stand in stands)


def _sought(stands: list[Stand]) -> dict[Stand, float]:
    """A wide look in long steps, then a close one between the two nights that hold the answer."""
    found: dict[Stand, float] = {}
    grids = {stand: np.unique(np.maximum(stand[1] + FIRST_LOOK_K, NEVER_C)) for stand in stands}
    shells = {stand: _Shells(stand[0], stand[2], stand[3]) for stand in stands}
    for step_s, margin in ((LOOK_S, LOOK_K), (STEP_S, 0.0)):
        open_ = [stand for stand in stands if stand not in found]
        if not open_:
            break
        nights = [grids[stand] for stand in open_]
        each = np.concatenate(nights)
        # the same curve of a day about each night
        air = (each + SWING_K / 2)[:, None] + _air(spell(-SWING_K / 2), SPELL_H, step_s)
        rows = [shells[stand] for stand, tried in zip(open_, nights, strict=True) for _ in tried]
        t = _march(rows, air, np.maximum(each + SWING_K / 2, 0.0), step_s)
        share = np.array([one.outer / one.outer.sum() for one in rows])
        least = np.einsum("sct,ct->sc", t, share).min(axis=0)
        split = np.split(least, np.cumsum([len(tried) for tried in nights])[:-1])
        for stand, tried, outer in zip(open_, nights, split, strict=True):
            kills = np.flatnonzero(outer <= stand[1])
            if not len(kills):
                found[stand] = NEVER_C
                continue
            last = int(kills[-1])
            after = min(last + 1, len(tried) - 1)
            low, high = float(tried[last]) - margin, float(tried[after]) + margin
            grids[stand] = np.linspace(low, high, CLOSE)
            if not margin:
                # between two nights half a kelvin apart the outer roots follow the night
                rise = float(outer[after] - outer[last])
                found[stand] = low if rise <= 0 else low + (high - low) * float(stand[1] - outer[last]) / rise
    return found


def nights_at_risk(critical_c: float, tmin_c: Floats) -> float:
    """Nights a year as cold as that, over years of daily minima (Y, 365)."""
    return float((tmin_c <= critical_c).sum(axis=1).mean())
