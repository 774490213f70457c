"""Water moving in the mix after a watering: Richards' equation in one dimension over the real inner areas (docs/methods.md, "water by depth").

Mixed form with Newton's steps on the whole balance (after Celia, Bouloutas and Zarba 1990), conductivity after Mualem (1976), uptake after Feddes
and others (1978). For one mix; with a coarse layer below the models disagree, and the static band speaks.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.science.water.substrate import RESIDUAL, Blend

CELLS, TO_MM, TO_WATER, MOST_ROUNDS = 48, 0.001, 1e-7, 24
FIRST_H, GROWS, SHRINKS, LEAST_H = 1e-4, 1.4, 3.0, 1e-7
# a step that settles in so few rounds may be longer next time
EASY = 10
# fastest water through the mix, slowest through films, mm/h; storage of a full cell, 1/mm
MOST_K, FILM_K, FULL_STORAGE = 36_000.0, 1e-4, 1e-7
INNER_MM = 5000.0
# roots draw freely up to one suction and not at all from another, mm; the surface dries up to a third
FREE_MM, NO_MORE_MM, AIR_DRY_MM = 3000.0, 80_000.0, 150_000.0


class Hydraulics(Protocol):
    """How a soil holds and leads water at a head psi (mm, below nought where it draws)."""

    def at(self, psi: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        """(water share, its change by head 1/mm, conductivity mm/h, its change by head 1/h)."""
        ...


@dataclass(frozen=True)
class MixHydraulics:
    """A mix: pores between grains by van Genuchten and Mualem, pores inside them by a slow curve of their own."""

    mix: Blend

    def at(self, psi: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        """(water share, its change by head 1/mm, conductivity mm/h, its change by head 1/h); the powers are shared, since they cost the most."""
        b = self.mix
        wet = psi < 0
        h: Floats = np.maximum(-psi, 1e-6)
        x: Floats = (h / b.rise_mm) ** b.n
        more, slope = 1 + x, b.n * x / h
        se = more**-b.m
        slow = 1 + (h / INNER_MM) ** 2
        inner = b.phi_int_use / np.sqrt(slow)
        span = b.phi_e * (1 - RESIDUAL)
        water = b.phi_e * RESIDUAL + span * se + (b.phi_int - b.phi_int_use) + inner
        falls = b.m * slope * se / more
        capacity = np.where(wet, span * falls + inner * h / (INNER_MM**2 * slow), 0.0) + FULL_STORAGE
        # 1 - Se^(1/m) is x / (1 + x)
        y = x / more
        power, root, most = y**b.m, np.sqrt(se), min(b.ks_mm_s * 3600, MOST_K)
        open_ = 1 - power
        change = 0.5 * falls / root * open_**2 + 2 * root * open_ * b.m * power * slope / (x * more)
        leads = most * root * open_**2 + FILM_K
        return np.asarray(water), np.asarray(capacity), np.asarray(leads), np.where(wet, most * change, 0.0)


@dataclass(frozen=True)
class Column:
    """A body of soil: its depth, the area of its cells from the floor up and of the faces between them, mm and mm2."""

    depth_mm: float
    areas_mm2: Floats
    faces_mm2: Floats

    def __post_init__(self) -> None:
        if not self.depth_mm > 0:
            raise FieldError("depth_mm", f"{self.depth_mm:g} is not above nought")
        if len(self.faces_mm2) != len(self.areas_mm2) + 1 or np.any(self.areas_mm2 <= 0):
            raise FieldError("areas_mm2", "every cell needs an area and a face on either side")

    @property
    def dz(self) -> float:
        """Height of a cell, mm."""
        return self.depth_mm / len(self.areas_mm2)

    @property
    def z_mm(self) -> Floats:
        """Middles of the cells above the floor."""
        return np.asarray((np.arange(len(self.areas_mm2)) + 0.5) * self.dz, float)

    @property
    def volumes_l(self) -> Floats:
        """Litres of the cells."""
        return self.areas_mm2 * self.dz / 1e6

    @classmethod
    def straight(cls, depth_mm: float, area_mm2: float = 1e4, cells: int = CELLS) -> "Column":
        """A body with upright walls."""
        return cls(depth_mm, np.full(cells, area_mm2), np.full(cells + 1, area_mm2))


@dataclass(frozen=True)
class Weathering:
    """What works on the column: uptake and evaporation in litres an hour, rain in litres an hour, each over hours."""

    uptake_l_h: Callable[[float], float] = lambda _: 0.0
    evaporation_l_h: Callable[[float], float] = lambda _: 0.0
    rain_l_h: Callable[[float], float] = lambda _: 0.0


@dataclass(frozen=True)
class Drying:
    """Water share by cell at the hours asked for (T, cells), heads, litres drained so far (T,), and how well the balance closes."""

    hours: Floats
    water: Floats
    psi: Floats
    drained_l: Floats
    used_l: Floats
    error_share: float
    steps: int

    @property
    def converged(self) -> bool:
        """Whether the balance closed as it must."""
        return self.error_share <= 1e-4


class _March:
    """One column through time; keeps its own balance."""

    def __init__(self, soil: Hydraulics, column: Column, works: Weathering, table: bool, roots: Floats | None) -> None:
        self.soil, self.column, self.works, self.table = soil, column, works, table
        self.volume = column.areas_mm2 * column.dz
        self.link = column.faces_mm2[1:-1] / column.dz
        share = np.ones(len(self.volume)) if roots is None else np.asarray(roots, float)
        self.root = share * self.volume / (share * self.volume).sum()
        self.full_k = float(soil.at(np.zeros(1))[2][0])
        self.drained = self.used = self.came = 0.0
        self.rounds = 0

    def step(self, psi: Floats, hour: float, dt: float) -> Floats | None:
        """The heads after a step, None where it does not settle. mm3 throughout."""
        from scipy.linalg.lapack import dgtsv

        soil, dz, faces = self.soil, self.column.dz, self.column.faces_mm2
        before = soil.at(psi)[0]
        h = np.maximum(-psi, 0.0)
        draws = np.clip((NO_MORE_MM - h) / (NO_MORE_MM - FREE_MM), 0.0, 1.0)
        sink = 1e6 * self.works.uptake_l_h(hour + dt) * self.root * draws
        airy = float(np.clip((AIR_DRY_MM - h[-1]) / (AIR_DRY_MM - FREE_MM), 0.0, 1.0))
        out, rain = 1e6 * self.works.evaporation_l_h(hour + dt) * airy, 1e6 * self.works.rain_l_h(hour + dt)
        now = psi
        for self.rounds in range(1, MOST_ROUNDS + 1):
            held, cap, k, rises = soil.at(now)
            k_face, pull = 0.5 * (k[1:] + k[:-1]), self.link * (now[1:] - now[:-1]) + faces[1:-1]
            up = -k_face * pull
            k_floor = 0.5 * (k[0] + self.full_k)
            open_ = self.table or now[0] + dz / 2 > 0
            give = faces[0] * k_floor / (dz / 2) if open_ else 0.0
            floor = -(give * now[0] + faces[0] * k_floor) if open_ else 0.0
            gain = -sink.copy()
            gain[:-1] -= up
            gain[1:] += up
            gain[0] += floor
            gain[-1] += rain - out
            off = self.volume / dt * (held - before) - gain
            # how the flow up through each face follows the head below and above it
            below = self.link * k_face - 0.5 * rises[:-1] * pull
            above = -self.link * k_face - 0.5 * rises[1:] * pull
            diagonal = self.volume / dt * cap
            diagonal[:-1] += below
            diagonal[1:] -= above
            diagonal[0] += give + (0.5 * rises[0] * faces[0] * (now[0] / (dz / 2) + 1) if open_ else 0.0)
            *_, change, info = dgtsv(-below, diagonal, above, -off)
            if info or not np.all(np.isfinite(change)):
                return None
            # a head that is about to turn wet goes there in halves, for the curve bends sharply before it
            now = np.where((now < -1) & (now + change > 0), 0.5 * now, now + change)
            # where it draws by metres, a millimetre more of draught moves no water
            if float(np.minimum(np.abs(change), cap * np.abs(change) * TO_MM / TO_WATER).max()) < TO_MM:
                self._keep(self._through_floor(now), sink.sum() + out, rain, dt)
                return now
        return None

    def _through_floor(self, psi: Floats) -> float:
        """What the floor lets through at these heads, mm3 an hour, upwards."""
        dz, area = self.column.dz, self.column.faces_mm2[0]
        if not (self.table or psi[0] + dz / 2 > 0):
            return 0.0
        return float(-area * 0.5 * (self.soil.at(psi[:1])[2][0] + self.full_k) * (psi[0] / (dz / 2) + 1))

    def _keep(self, floor: float, used: float, rain: float, dt: float) -> None:
        self.drained += -floor * dt / 1e6
        self.used += used * dt / 1e6
        self.came += rain * dt / 1e6


def dry(
    soil: Hydraulics, column: Column, hours: Sequence[float] | Floats, works: Weathering | None = None, *,
    start_psi: Floats | None = None, table: bool = False, roots: Floats | None = None, longest_h: float = 0.25,
) -> Drying:  # fmt: skip
    """The column from a soaking on, at the hours asked for (growing, from nought).

    It stands on open holes, or on a water table; `roots` weighs the cells. Raises FieldError where it cannot be reckoned.
    """
    times = np.asarray(hours, float)
    if not len(times) or np.any(np.diff(times) <= 0) or times[0] < 0:
        raise FieldError("hours", "hours must grow, from nought on")
    psi = np.zeros(len(column.areas_mm2)) if start_psi is None else np.asarray(start_psi, float).copy()
    march = _March(soil, column, works or Weathering(), table, roots)
    start_l = float((soil.at(psi)[0] * march.volume).sum()) / 1e6
    shares, heads, drained, used = [], [], [], []
    at, dt, steps = 0.0, FIRST_H, 0
    for target in times:
        while at < target - 1e-12:
            take = min(dt, target - at)
            found = march.step(psi, at, take)
            if found is None:
                dt = take / SHRINKS
                if dt < LEAST_H:
                    raise FieldError("mix", "water in this mix did not settle; the simple figures stand")
                continue
            psi, at, steps = found, at + take, steps + 1
            if march.rounds <= EASY:
                dt = min(max(dt, take) * GROWS, longest_h)
        shares.append(soil.at(psi)[0])
        heads.append(psi)
        drained.append(march.drained)
        used.append(march.used)
    end_l = float((shares[-1] * march.volume).sum()) / 1e6
    error = abs(start_l + march.came - march.drained - march.used - end_l) / max(start_l, 1e-9)
    return Drying(times, np.array(shares), np.array(heads), np.array(drained), np.array(used), error, steps)
