"""Mixing porous grains: packing, pore shares, retention curve and conductivity (docs/methods.md, "how a mix packs").

Sources: de Larrard 1999 (compressible packing), van Genuchten 1980 (retention), Lohman 1972 (capillary rise),
Carman 1937 (conductivity). Defaults of components are typical values, not measurements of your batch.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.model.mix import Mix, Part
from kesh.reference.tables import Substrate, Tables

POURED_K = 4.12
RESIDUAL = 0.08
WET_SATURATION = 0.85
# effective sizes of the classes 0.1-0.25, 0.25-0.5, 0.5-1, 1-2 and 2-5 mm
RISE_D_MM = np.array(
    [np.log(hi / lo) / (1 / lo - 1 / hi) for lo, hi in ((0.1, 0.25), (0.25, 0.5), (0.5, 1), (1, 2), (2, 5))]
)
RISE_MM = np.array([428.0, 246.0, 135.0, 65.0, 25.0])


@dataclass(frozen=True)
class Blend:
    """A mix as one material. Shares of the whole volume; sizes and rises in mm; density in kg/l."""

    phi_e: float
    phi_int: float
    phi_int_use: float
    dry_density_kg_l: float
    mixed_by_parts: float
    mean_size_mm: float
    finest_mm: float
    rise_mm: float
    n: float
    ks_mm_s: float
    shares: tuple[tuple[str, float], ...]

    @property
    def phi_t(self) -> float:
        """All open pores."""
        return self.phi_e + self.phi_int

    @property
    def m(self) -> float:
        """van Genuchten m = 1 - 1/n."""
        return 1 - 1 / self.n

    @property
    def volume_loss(self) -> float:
        """Share of the loose parts' volume that mixing takes away."""
        return 1 - self.mixed_by_parts

    @property
    def dry_water(self) -> float:
        """Water share that neither roots nor air reach: th_dry of methods 4."""
        return self.phi_int - self.phi_int_use + RESIDUAL * self.phi_e

    def saturation_effective(self, suction_mm: Floats) -> Floats:
        """Se of the pores between grains at a suction (mm), 0..1."""
        h = np.maximum(suction_mm, 0.0) / self.rise_mm
        return (1 + h**self.n) ** -self.m

    def water_drained(self, suction_mm: Floats) -> Floats:
        """Water share after draining, the pores inside grains full."""
        return self.phi_e * (RESIDUAL + (1 - RESIDUAL) * self.saturation_effective(suction_mm)) + self.phi_int

    def water_available(self, suction_mm: Floats) -> Floats:
        """Water share that roots can use after draining."""
        return self.phi_e * (1 - RESIDUAL) * self.saturation_effective(suction_mm) + self.phi_int_use

    @property
    def wet_zone_mm(self) -> float:
        """Height above the drain level up to which the pores between grains stay 85 % full."""
        full = ((WET_SATURATION - RESIDUAL) / (1 - RESIDUAL)) ** (-1 / self.m) - 1
        return float(self.rise_mm * full ** (1 / self.n))


def effective_size_mm(low_mm: float, high_mm: float) -> float:
    """Surface-weighted mean size of a log-uniform class."""
    return low_mm if high_mm == low_mm else float(np.log(high_mm / low_mm) / (1 / low_mm - 1 / high_mm))


def _packing(y: Floats, alpha: Floats, d: Floats) -> float:
    """Packing density of poured grains. y: solid-envelope shares, alpha: own packing, d: sizes; all (k,)."""
    beta = alpha * (1 + 1 / POURED_K)
    order = np.argsort(-d, kind="stable")
    y, beta, d = y[order], beta[order], d[order]
    gamma = np.empty_like(beta)
    for i in range(len(d)):
        total = 1.0
        for j in range(len(d)):
            if j < i:
                wall = 1 - max(0.0, 1 - d[i] / d[j]) ** 1.50
                total -= (1 - beta[i] + wall * beta[i] * (1 - 1 / beta[j])) * y[j]
            elif j > i:
                loosening = np.sqrt(max(0.0, 1 - (1 - d[j] / d[i]) ** 1.02))
                total -= (1 - loosening * beta[i] / beta[j]) * y[j]
        gamma[i] = beta[i] / total
    top = float(gamma.min())

    def excess(phi: float) -> float:
        return float(np.sum((y / beta) / (1 / phi - 1 / gamma))) - POURED_K

    low, high = 1e-9, top * (1 - 1e-14)
    while high - low > 1e-14:  # the left side rises with the packing
        middle = (low + high) / 2
        low, high = (middle, high) if excess(middle) < 0 else (low, middle)
        if middle in (low, high) and high - low < 1e-13:
            break
    return (low + high) / 2


def _check(row: Substrate) -> None:
    if row.size_high_mm < row.size_low_mm:
        raise FieldError(f"{row.key}.size_high_mm", f"{row.size_high_mm:g} is below size_low_mm {row.size_low_mm:g}")
    if not 0.05 <= row.inter_particle_porosity <= 0.9:
        raise FieldError(f"{row.key}.inter_particle_porosity", f"{row.inter_particle_porosity:g} is outside 0.05..0.9")
    grain = row.intra_particle_porosity / (1 - row.inter_particle_porosity)
    if not 0 <= grain <= 0.95:
        raise FieldError(f"{row.key}.intra_particle_porosity", "the pores inside leave no solid grain")


def blend(components: Sequence[tuple[Substrate, float]]) -> Blend:
    """Mix loose parts. components: (substrate, parts); parts of 0 are dropped.

    Raises FieldError when nothing is left, a part is negative or a substrate is impossible.
    """
    if any(parts < 0 for _, parts in components):
        raise FieldError("parts", "a part is negative; use 0 to leave it out")
    rows = [(row, parts) for row, parts in components if parts > 0]
    if not rows:
        raise FieldError("parts", "the mix has no parts; add at least one")
    for row, _ in rows:
        _check(row)
    v = np.array([parts for _, parts in rows], dtype=float)
    v /= v.sum()
    phi = np.array([row.inter_particle_porosity for row, _ in rows])
    grain = np.array([row.intra_particle_porosity for row, _ in rows]) / (1 - phi)
    use = np.array([row.intra_water_available_fraction for row, _ in rows])
    rho = np.array([row.dry_bulk_density_g_per_l for row, _ in rows]) / 1000
    low = np.array([row.size_low_mm for row, _ in rows])
    high = np.array([row.size_high_mm for row, _ in rows])
    d = np.array([effective_size_mm(a, b) for a, b in zip(low, high, strict=True)])

    solid = v * (1 - phi)
    y = solid / solid.sum()
    packing = _packing(y, 1 - phi, d) if len(rows) > 1 else float(1 - phi[0])
    ratio = float(solid.sum() / packing)
    phi_e = 1 - packing
    mean_size = float(1 / np.sum(y / d))

    logs = np.log(np.sqrt(low * high))
    spread = np.log(high / low) ** 2 / 12
    variance = float(np.sum(y * ((logs - np.sum(y * logs)) ** 2 + spread)))
    n = float(np.clip(1 + 1.2 / np.sqrt(variance + 0.30**2), 1.8, 6))
    rise = capillary_rise_mm(mean_size, phi_e)
    permeability = phi_e**3 * (mean_size / 1000) ** 2 / (180 * (1 - phi_e) ** 2)
    return Blend(
        phi_e=phi_e,
        phi_int=float(packing * np.sum(y * grain)),
        phi_int_use=float(packing * np.sum(y * grain * use)),
        dry_density_kg_l=float(np.sum(v * rho)) / ratio,
        mixed_by_parts=ratio,
        mean_size_mm=mean_size,
        finest_mm=float(low.min()),
        rise_mm=rise,
        n=n,
        ks_mm_s=float(998.2 * 9.81 * permeability / 1.002e-3 * 1000),
        shares=tuple((row.key, float(share)) for (row, _), share in zip(rows, v, strict=True)),
    )


def capillary_rise_mm(mean_size_mm: float, phi_e: float) -> float:
    """Capillary rise between grains, mm; uncertain by a factor of 1.5 either way (after Lohman 1972)."""
    if mean_size_mm < RISE_D_MM[0]:
        table = RISE_MM[0] * RISE_D_MM[0] / mean_size_mm
    elif mean_size_mm > RISE_D_MM[-1]:
        table = RISE_MM[-1] * RISE_D_MM[-1] / mean_size_mm
    else:
        table = float(np.exp(np.interp(np.log(mean_size_mm), np.log(RISE_D_MM), np.log(RISE_MM))))
    return float(table * ((1 - phi_e) / phi_e) / ((1 - 0.41) / 0.41))


@lru_cache(maxsize=128)
def blend_of(mix: Mix, tables: Tables) -> Blend:
    """The blend of a recipe. Raises FieldError for an unknown substrate or an empty recipe."""
    untold = [tables.substrate(p.substrate).name or p.substrate for p in mix.parts if p.parts is None]
    if untold:
        raise FieldError("parts", f"how much {', '.join(untold)} goes in is not told; a mix cannot be split without it")
    return blend([(sieved(tables.substrate(p.substrate), p), p.parts) for p in mix.parts if p.parts is not None])


def sieved(row: Substrate, part: Part) -> Substrate:
    """A substrate in the sizes to which a part was sieved."""
    if part.size_low_mm is None and part.size_high_mm is None:
        return row
    low, high = part.size_low_mm or row.size_low_mm, part.size_high_mm or row.size_high_mm
    return row.model_copy(update={"size_low_mm": low, "size_high_mm": high})


@lru_cache(maxsize=128)
def layer_of(mix: Mix, tables: Tables) -> tuple[Blend, float] | None:
    """The drainage layer's material and thickness (mm), or None."""
    layer = mix.drainage_layer
    if layer is None or layer.thickness_mm <= 0:
        return None
    return blend([(tables.substrate(layer.substrate), 1.0)]), layer.thickness_mm
