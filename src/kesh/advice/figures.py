"""All figures of a case against N pots, each computed once and shown everywhere."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from kesh.advice.case import Case
from kesh.advice.roots.base import RootBase, base_of
from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.figure.silhouette import tree_regions
from kesh.geometry.columns import PotColumns, columns, words_of
from kesh.geometry.holes import drilled
from kesh.geometry.outline import Floats
from kesh.geometry.overall import overalls_mm
from kesh.geometry.profile import undercut_mm
from kesh.geometry.sound import faulty
from kesh.geometry.volume import Body, body, inner_area_mm2, inner_volume_l
from kesh.model import Pot
from kesh.science.climate.breath import air_need_at
from kesh.science.climate.climate import PEAK_FACTOR, MonthEt, monthly_et0, peak_month
from kesh.science.group.hill import hill_volume_l, mounds_of
from kesh.science.group.tray import tray_of
from kesh.science.looks.visual_mass import Region, darkness_of, pot_weight, tree_weight
from kesh.science.roots.fit import RootFit, Seat, fit
from kesh.science.special.rock import rock_stand
from kesh.science.special.shared import EDGE_MM
from kesh.science.stand.stability import Standing, TreeBody, crown_area_m2, standing, tree_body, with_load
from kesh.science.water.drainage import Drained, drained
from kesh.science.water.drying import (
    WaterUse,
    bare_mm_day,
    crown_coefficient,
    days_to_use,
    leaf_share,
    surface_store_mm,
    water_use,
)
from kesh.science.water.substrate import Blend

LEAST_SOIL_MM = 3.0
# a tree grows in months whose mean is above this, with so much of its leaf out [J]
GROWS_C, IN_LEAF = 10.0, 0.5


def _soil_depth_mm(pots: PotColumns, headspace_mm: float) -> Floats:
    return np.maximum(pots.inner_depth - headspace_mm, np.minimum(LEAST_SOIL_MM, pots.inner_depth))


def _plantable(pots: PotColumns, headspace_mm: float, layer: tuple[Blend, float] | None) -> np.ndarray:
    return pots.inner_depth - headspace_mm - (layer[1] if layer else 0.0) >= LEAST_SOIL_MM


@lru_cache(maxsize=32)
def _kept_drained(
    pots: PotColumns, mix: Blend, headspace_mm: float, mound_mm: float, layer: tuple[Blend, float] | None
) -> Drained:
    return _drained_to(pots, mix, headspace_mm, mound_mm, layer)


def _drained_to(
    pots: PotColumns, mix: Blend, headspace_mm: float, mound_mm: float, layer: tuple[Blend, float] | None
) -> Drained:
    """The drained mix of pots that were just asked about, nan where none fits in; it does not hang on the trunk."""
    depth, good = _soil_depth_mm(pots, headspace_mm), _plantable(pots, headspace_mm, layer)
    if np.all(good):
        return drained(pots, mix, depth, mound_mm=mound_mm, layer=layer)
    found = drained(pots.only(good), mix, depth[good], mound_mm=mound_mm, layer=layer)
    spread = {}
    for name, values in vars(found).items():
        spread[name] = np.full(len(pots), np.nan)
        spread[name][good] = values
    return Drained(**spread)


@dataclass(frozen=True)
class Figures:
    """Lazily computed figures; arrays are (N,). A figure that cannot be known is None."""

    case: Case
    pots: PotColumns

    @once
    def body(self) -> Body:
        """Volumes and masses."""
        return body(self.pots)

    @once
    def undercut(self) -> tuple[Floats, Floats]:
        """Undercut per side and the height where it occurs, mm."""
        return undercut_mm(self.pots)

    @once
    def soil_depth_mm(self) -> Floats:
        """From the inner floor to the soil line; at least a few mm, see `plantable`."""
        return _soil_depth_mm(self.pots, self.case.headspace_mm)

    @once
    def plantable(self) -> np.ndarray:
        """Where headspace and drainage layer leave room for mix."""
        return _plantable(self.pots, self.case.headspace_mm, self.case.layer)

    @once
    def faulty(self) -> np.ndarray:
        """Which pots cannot be reckoned at all."""
        return faulty(self.pots)

    @once
    def overall(self) -> tuple[Floats, Floats]:
        """Length and width outside with belly, bands and lip: what must stand on the bench and go into the kiln."""
        return overalls_mm(self.pots)

    @once
    def has_drain(self) -> np.ndarray:
        """Where at least one drain hole is known."""
        return drilled(self.pots).drains

    @once
    def drains(self) -> np.ndarray:
        """Where water can leave: by a hole that is known, or by those that are usual where nobody has looked."""
        return np.asarray(self.has_drain | ~self.pots.each(lambda p: p.holes_known))

    @once
    def soil_surface_mm2(self) -> Floats:
        """Inner section at the soil line."""
        return inner_area_mm2(self.pots, self.soil_depth_mm[:, None])[:, 0]

    @once
    def fill_l(self) -> Floats:
        """Inner volume to the soil line, corrected by a measured volume."""
        return inner_volume_l(self.pots, self.soil_depth_mm) * self.body.volume_factor

    @once
    def seat(self) -> Seat:
        """Where the tree stands in each pot: as planted, or as tried in the line-up."""
        base = self.case.base_mm(self.pots.inner_depth)
        seated = replace(self.case.seat, floor_layer_mm=float(base[0]) if len(base) == 1 else base)
        trials = [self.case.trials.get(pot.id) for pot in self.pots.pots] if self.case.trials else []
        if not any(trials):
            return seated
        x, y = self.case.seat.offset_x_mm, self.case.seat.offset_y_mm
        return replace(
            seated,
            offset_x_mm=np.array([t.offset_x_mm if t else x for t in trials]),
            offset_y_mm=np.array([t.offset_y_mm if t else y for t in trials]),
        )

    @once
    def roots(self) -> RootFit | None:
        """Root fit, or None while the root mass is unknown."""
        if self.case.roots is None:
            return None
        return fit(self.case.roots, self.pots, self.seat)

    @once
    def root_base(self) -> RootBase | None:
        """The kept root mass as it stands in the one pot that is asked about."""
        return base_of(self.case.roots, self.pots, self.seat, self.roots)

    @once
    def water(self) -> Drained | None:
        """Drained mix; rows that are not plantable are nan. None without a mix or without any row to plant."""
        case = self.case
        if case.blend is None or not np.any(self.plantable):
            return None
        # the solver's candidates are asked once; kept, they would fill the memory
        drain = _kept_drained if self.pots.which is None else _drained_to
        found = drain(self.pots, case.blend, case.headspace_mm, case.mound_mm, case.layer)
        # a measured volume scales what the pot holds, not how it is shared out
        factor = self.body.volume_factor
        return Drained(**{k: v * factor if k.endswith("_l") else v for k, v in vars(found).items()})

    @once
    def peak(self) -> MonthEt | None:
        """The warmest month at the site."""
        if self.case.site is None or self.case.site.latitude_deg is None or not self.case.site.months:
            return None
        return peak_month(self.case.site)

    @once
    def use(self) -> WaterUse | None:
        """Water use at the peak, or None while site, species, crown or mix are missing."""
        case, area = self.case, crown_area_m2(self.case.tree.measure)
        if self.water is None or self.peak is None or case.species is None or area is None or case.blend is None:
            return None
        assert case.site is not None
        leaf = leaf_share(case.species, self.peak.day, self.peak.mean_c, case.site.latitude_deg or 0.0)
        layer = case.layer[1] if case.layer else 0.0
        return water_use(
            case.species,
            area,
            self.peak.et0_mm_day * PEAK_FACTOR,
            leaf,
            self.water,
            case.blend,
            self.soil_depth_mm - layer,
            self.soil_surface_mm2 / 1e6,
            case.care.management_depletion,
        )

    @once
    def air_short_l(self) -> Floats | None:
        """Litres that must be used after a watering until mix and lower third have the air the roots want; None without a mix or species."""
        need, water = self.case.air_need, self.water
        if need is None or water is None:
            return None
        return np.asarray(self._air_short_l(np.ones(1))[0])

    def _air_short_l(self, cold: Floats) -> Floats:
        """The same (M, N) where roots want a share of what they want at 20 degrees (M,)."""
        water = self.water
        assert water is not None
        need = (self.case.air_need or 0.0) * cold[:, None]
        short = np.maximum(need - water.air_mean[None, :], need / 2 - water.air_bottom_third[None, :])
        return np.asarray(water.soil_l[None, :] * np.maximum(short, 0.0))

    @once
    def growing(self) -> tuple[MonthEt, ...]:
        """Months in which the tree is in leaf and grows; the warmest where there is none. Empty without a climate."""
        site, species = self.case.site, self.case.species
        if self.peak is None or site is None or species is None:
            return ()
        months = monthly_et0(site)
        lat = site.latitude_deg or 0.0
        found = tuple(m for m in months if m.mean_c >= GROWS_C and leaf_share(species, m.day, m.mean_c, lat) >= IN_LEAF)
        return found or (self.peak,)

    @once
    def wet_foot_h(self) -> Floats | None:
        """Hours after a watering until the roots have the air they want, in the slowest month of growth (N,)."""
        hours = self.wet_hours_by_month(self.growing)
        return None if hours is None else np.asarray(hours.max(axis=0))

    def wet_hours_by_month(self, months: tuple[MonthEt, ...]) -> Floats | None:
        """The same for some months (M, N); None while site, species, crown or mix are missing."""
        case, area, short = self.case, crown_area_m2(self.case.tree.measure), self.air_short_l
        if (
            not months
            or area is None
            or short is None
            or case.species is None
            or case.blend is None
            or case.site is None
        ):
            return None
        assert self.water is not None
        lat, surface = case.site.latitude_deg or 0.0, self.soil_surface_mm2 / 1e6
        et0 = np.array([m.et0_mm_day for m in months])[:, None]
        leaf = np.array([leaf_share(case.species, m.day, m.mean_c, lat) for m in months])[:, None]
        layer = case.layer[1] if case.layer else 0.0
        return 24 * days_to_use(
            self._air_short_l(np.minimum(air_need_at(1.0, np.array([m.mean_c for m in months])), 1.0)), et0 * crown_coefficient(case.species) * area * leaf,
            bare_mm_day(case.species, area, surface[None, :], et0), surface[None, :],
            surface_store_mm(self.water, case.blend, self.soil_depth_mm - layer)[None, :],
        )  # fmt: skip

    @once
    def tree_body(self) -> TreeBody | None:
        """Mass and wind area of the tree, or None while measures are missing."""
        try:
            return tree_body(self.case.tree)
        except FieldError:
            return None

    def _loaded(self, tree: TreeBody) -> TreeBody:
        """The tree with the rock it stands on and the stone on the pot's floor, where the planting has them."""
        p = self.case.planting
        if p is None or (p.rock is None and p.counterweight_kg is None):
            return tree
        top = self.pots.body_height + self.pots.feet
        foot = top + p.raise_mm
        found = tree
        if p.rock is not None:
            low = top - self.case.headspace_mm - p.rock.sunk_mm
            try:
                stands = rock_stand(p.rock.points_mm, p.rock.depth_mm, p.rock.density_kg_l, 0.0, 0.0, p.rock.sunk_mm)
            except FieldError:
                return tree
            found = with_load(found, stands.mass_kg, low + stands.centre_mm - foot, p.rock.x_mm - p.offset_x_mm)
        if p.counterweight_kg is not None:
            found = with_load(found, p.counterweight_kg, self.pots.feet + self.pots.floor + 10.0 - foot, -p.offset_x_mm)
        return found

    @once
    def stand(self) -> Standing | None:
        """Masses, tipping and wind, or None while tree or mix are unknown."""
        if self.tree_body is None or self.water is None or self.case.blend is None:
            return None
        seat = self.seat
        return standing(
            self._loaded(self.tree_body), self.pots, self.body, self.water, self.case.blend, self.soil_depth_mm,
            offset_x_mm=seat.offset_x_mm, offset_y_mm=seat.offset_y_mm, raise_mm=seat.raise_mm,
        )  # fmt: skip

    @once
    def tree_weight(self) -> tuple[float, float] | None:
        """(visual weight, centroid x) of the drawn tree, or None while it cannot be drawn from measures."""
        return self._weight_of(self.regions)

    @once
    def regions(self) -> tuple[Region, ...]:
        """Leaves and wood of the drawn tree, weighted as the artist weighs them."""
        return tree_regions(self.case.tree, self.case.species, self.case.brief.weights, rest=self.case.at_rest)

    @staticmethod
    def _weight_of(regions: tuple[Region, ...]) -> tuple[float, float] | None:
        return tree_weight(regions) if any(r.weight > 0 for r in regions) else None

    @once
    def bare_ratio(self) -> Floats | None:
        """Pot weight by tree weight out of leaf, for a tree that drops its leaves; None for others."""
        species = self.case.species
        if species is None or not species.sheds_leaves:
            return None
        bare = self._weight_of(tree_regions(self.case.tree, species, self.case.brief.weights, bare=True))
        return None if bare is None else self.pot_weight / bare[0]

    @once
    def pot_weight(self) -> Floats:
        """Visual weight of the pots."""
        names, codes = words_of(self.pots, "colour")
        dark = np.array([darkness_of(name) for name in names])[codes]
        return pot_weight(self.body.elevation_area_mm2, dark, self.case.brief.weights.pot)

    @once
    def visual_ratio(self) -> Floats | None:
        """Pot weight by tree weight."""
        return None if self.tree_weight is None else self.pot_weight / self.tree_weight[0]

    @once
    def balance(self) -> Floats | None:
        """How far the tree's visual weight stands right of the pot's middle, as a share of half the length."""
        return (
            None if self.tree_weight is None else (self.tree_weight[1] + self.seat.shift[:, 0]) / (self.pots.length / 2)
        )

    @once
    def depth_ratio(self) -> Floats | None:
        """Inner pot depth by trunk diameter at the place in use."""
        trunk = self.case.tree.measure.trunk_mm(self.case.brief.trunk_station or self.case.tree.trunk_station)
        return None if trunk is None else self.pots.inner_depth / trunk

    @once
    def length_ratio(self) -> Floats | None:
        """Outer length by the measure the length rule rests on."""
        base = self.case.bands.length.inputs[0][1]
        return None if base is None else self.pots.length / base

    @once
    def kept_in_pot_l(self) -> Floats:
        """Volume of kept roots below the soil line, litres."""
        if self.roots is None:
            return np.zeros(len(self.pots))
        above = max(0.0, self.case.seat.raise_mm + self.case.headspace_mm - self.case.mound_mm / 2)
        kept = np.maximum(self.roots.kept_depth_mm, 1e-9)
        return self.roots.kept_volume_l * np.clip(1 - above / kept, 0, 1)

    @once
    def mound_l(self) -> Floats:
        """Volume of the mound; of a group the ground that was drawn for it, of a slab the mound it carries."""
        tree, p = self.case.tree, self.case.planting
        if tree.hill:
            mounds = mounds_of(tree.hill)
            if len(self.pots) == 1:
                return np.array([hill_volume_l(mounds, tray_of(self.pots.pots[0]))])
            return np.full(len(self.pots), sum(m.volume_l for m in mounds))
        plain = self.soil_surface_mm2 * self.case.mound_mm / 2 / 1e6
        if p is None or p.slab is None:
            return plain
        edge = EDGE_MM + p.slab.ring_wide_mm
        a = np.maximum(self.pots.length / 2 - edge, 20.0) if p.slab.reach_x_mm is None else p.slab.reach_x_mm
        b = np.maximum(self.pots.width / 2 - edge, 20.0) if p.slab.reach_y_mm is None else p.slab.reach_y_mm
        return np.where(self.pots.slab, np.pi * a * b * p.slab.mound_mm / 2 / 1e6, plain)

    @once
    def layer_l(self) -> Floats:
        """Volume of the drainage layer."""
        if self.case.layer is None:
            return np.zeros(len(self.pots))
        return inner_volume_l(self.pots, np.minimum(self.case.layer[1], self.soil_depth_mm)) * self.body.volume_factor

    @once
    def fresh_soil_l(self) -> Floats:
        """Room for fresh mix: to the soil line with the mound, less layer and kept roots."""
        return np.maximum(self.fill_l + self.mound_l - self.layer_l - self.kept_in_pot_l, 0.0)

    def components_l(self, i: int) -> dict[str, float]:
        """Loose litres to measure out for pot i, by substrate; the loss in mixing is added."""
        mix = self.case.blend
        found: dict[str, float] = {}
        if mix is not None:
            loose = float(self.fresh_soil_l[i]) / mix.mixed_by_parts
            for key, share in mix.shares:
                found[key] = found.get(key, 0.0) + loose * share
        if self.case.layer is not None and self.case.mix is not None and self.case.mix.drainage_layer is not None:
            key = self.case.mix.drainage_layer.substrate
            found[key] = found.get(key, 0.0) + float(self.layer_l[i])
        return found

    @once
    def mix_ph(self) -> float | None:
        """Usual pH of the mix, by volume; None when a part's pH is not known."""
        if self.case.mix is None or self.case.blend is None:
            return None
        values = [(self.case.tables.substrate(key).ph, share) for key, share in self.case.blend.shares]
        if any(ph is None for ph, _ in values):
            return None
        return float(sum((ph or 0.0) * share for ph, share in values))


def figures_for(case: Case, pots: list[Pot] | tuple[Pot, ...]) -> Figures:
    """Figures of a case against pots."""
    return Figures(case, columns(pots))
