"""The fact tables as frozen objects, and the set of tables that one collection uses."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from functools import cache, lru_cache
from typing import Annotated, Any, Literal

from pydantic import Field

from kesh.base.errors import FieldError
from kesh.reference.rows import Row, merged, raw_table, read_row

Share = Annotated[float, Field(ge=0, le=1)]
Group = Literal["conifer", "deciduous", "broadleaf_evergreen", "tropical", "succulent", "palmlike"]
Hex = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
# of a tree whose species is not known
USUAL_BARK, USUAL_LEAF = "#7A6A58", "#6B8248"


DECIDUOUS_CONIFERS = frozenset({"Larix", "Pseudolarix", "Taxodium", "Metasequoia"})


class CareClass(Row):
    """What a group of species wants, where its own row is silent."""

    label: str
    air_need: Share
    management_depletion: Share
    cut_limit: Share
    interval_years: Annotated[float, Field(gt=0, le=20)]
    root_kill_c: float
    root_rate_per_year: float


class Species(Row):
    """A species, or a group that is grown alike. Starting points; the tree and the climate decide."""

    common_name: str = ""
    botanical_name: str = ""
    group: Group = "deciduous"
    flowering_or_fruiting: Literal["none", "flower", "fruit", "both"] = "none"
    root_hardy_c: Annotated[float, Field(ge=-60, le=30)] | None = None
    usda_zone_min: float | None = None
    water_need: float | None = None
    min_air_porosity: Share | None = None
    ph_low: float | None = None
    ph_high: float | None = None
    repot_years_training_low: float | None = None
    repot_years_training_high: float | None = None
    repot_years_refined_low: float | None = None
    repot_years_refined_high: float | None = None
    max_root_removal_healthy: Share | None = None
    bare_root_ok: str = ""
    flat_bottom_saw_ok: str = ""
    repot_window: str = ""
    second_window: str = ""
    vigour: float | None = None
    kc: Annotated[float, Field(ge=0, le=3)] | None = None
    leaf_area_index: Annotated[float, Field(ge=0, le=15)] | None = None
    strength: Annotated[float, Field(ge=-2, le=2)] | None = None
    glaze_tradition: Literal["unglazed", "glazed", "either", ""] = ""
    bark_colour_hex: Hex = USUAL_BARK
    leaf_colour_hex: Hex = USUAL_LEAF
    autumn_colour_hex: Hex | None = None
    flower_or_fruit_colour_hex: Hex | None = None
    growth_spread_percent_per_year_training: float | None = None
    care_class: str = ""
    foliage: Literal[
        "needle", "larch", "spray", "small", "oval", "narrow", "palm", "fan", "pinnate", "strap", "frond", ""
    ] = ""
    bark: Literal["plates", "fibres", "furrows", "cork", "smooth", ""] = ""
    foot: Literal["fluted", "swollen", ""] = ""

    @property
    def stores_water(self) -> bool:
        """Whether it keeps water in trunk or roots and is watered rarely."""
        return self.group in ("succulent", "palmlike")

    @property
    def class_key(self) -> str:
        """The care class, inferred from genus, group and bloom when the row does not name one."""
        if self.care_class:
            return self.care_class
        genus = self.botanical_name.split(" ")[0]
        by_genus = {
            "Pinus": "pine", "Juniperus": "juniper", "Picea": "spruce_fir", "Abies": "spruce_fir", "Larix": "larch",
            "Salix": "wetland", "Taxodium": "wetland", "Olea": "mediterranean", "Pistacia": "mediterranean",
            "Ulmus": "deciduous_strong", "Ficus": "tropical",
        }  # fmt: skip
        by_group = {
            "conifer": "spruce_fir", "tropical": "tropical", "succulent": "tropical", "palmlike": "tropical",
            "broadleaf_evergreen": "broadleaf_evergreen",
        }  # fmt: skip
        if genus in by_genus:
            return by_genus[genus]
        if self.group in by_group:
            return by_group[self.group]
        return "deciduous_fine" if self.flowering_or_fruiting == "none" else "flowering_fruiting"

    @property
    def sheds_leaves(self) -> bool:
        """Whether the tree stands bare in winter."""
        return self.group == "deciduous" or self.botanical_name.split(" ")[0] in DECIDUOUS_CONIFERS


class Substrate(Row):
    """One grade of one material. Both porosities are shares of the whole volume."""

    name: str = ""
    size_low_mm: Annotated[float, Field(gt=0, le=200)]
    size_high_mm: Annotated[float, Field(gt=0, le=200)]
    dry_bulk_density_g_per_l: Annotated[float, Field(gt=0, le=3000)]
    inter_particle_porosity: Share
    intra_particle_porosity: Share
    intra_water_available_fraction: Share
    ph: float | None = None
    cec: str = ""
    breaks_down_years: float | None = None
    kind: Literal["mineral", "organic"] = "mineral"


class Material(Row):
    """What a pot is made of."""

    name: str
    density_g_cm3: Annotated[float, Field(gt=0)]
    thermal_conductivity_w_mk: float
    typical_wall_mm_small: float
    typical_wall_mm_medium: float
    typical_wall_mm_large: float
    frost_proof: Literal["yes", "if_drained", "no"]
    breathes: str
    flexural_strength_mpa: float | None = None
    tensile_strength_mpa: float | None = None
    max_service_c: float | None = None
    solar_absorptance_light: Share = 0.35
    solar_absorptance_mid: Share = 0.62
    solar_absorptance_dark: Share = 0.88


class Tradition(Row):
    """What a school usually does for a style."""

    style: str
    school: str
    outline_powerful: str
    outline_balanced: str
    outline_delicate: str
    outline_avoid: str = ""
    wall_profile: str
    feet: str
    lip: str
    glaze_conifer: str
    glaze_deciduous: str
    glaze_flowering_fruiting: str
    glaze_broadleaf_tropical: str
    depth_factor_low: float | None = None
    depth_factor_high: float | None = None
    length_factor_low: float
    length_factor_high: float
    length_basis: Literal["height", "spread", "larger", "fall"]
    stand_along_low: float
    stand_along_high: float
    stand_depth_low: float
    stand_depth_high: float


@dataclass(frozen=True, eq=False)
class Tables:
    """The reference tables in force: what ships, with the user's rows over it."""

    species: Mapping[str, Species]
    substrates: Mapping[str, Substrate]
    own_species: frozenset[str] = frozenset()
    own_substrates: frozenset[str] = frozenset()

    def substrate(self, key: str) -> Substrate:
        """A substrate by key. Raises FieldError when there is none."""
        if key not in self.substrates:
            raise FieldError("substrate", f"no substrate '{key}' in the tables; add a row or choose another")
        return self.substrates[key]


@cache
def care_classes() -> Mapping[str, CareClass]:
    """The care classes by key."""
    return {row["key"]: read_row(CareClass, row, "care_classes") for row in raw_table("care_classes")}


@cache
def materials() -> Mapping[str, Material]:
    """Pot materials by key."""
    return {row["key"]: read_row(Material, row, "materials") for row in raw_table("materials")}


@cache
def traditions() -> Mapping[tuple[str, str], Tradition]:
    """Pot tradition by (style, school)."""
    rows = (read_row(Tradition, row, "pot_tradition") for row in raw_table("pot_tradition"))
    return {(row.style, row.school): row for row in rows}


def known_material(key: str) -> Material | None:
    """A material by key, or the first whose key starts with it; None when there is none."""
    found = materials().get(key)
    return next((m for k, m in materials().items() if k.startswith(key)), None) if found is None else found


def material(key: str) -> Material:
    """A material by key, or the first whose key starts with it. Raises FieldError when there is none."""
    found = known_material(key)
    if found is None:
        raise FieldError("material", f"no material '{key}'; known are {', '.join(sorted(materials()))}")
    return found


def nearest_key(key: str, known: Iterable[str]) -> str:
    """The known key that is spelt most like one, for people who mistyped it; empty when none is near."""
    found = get_close_matches(key.strip().lower().replace(" ", "_").replace("-", "_"), list(known), n=1, cutoff=0.6)
    return found[0] if found else ""


@lru_cache(maxsize=8)
def _tables(species_rows: str, substrate_rows: str) -> Tables:
    own_species, own_substrates = json.loads(species_rows), json.loads(substrate_rows)
    return Tables(
        merged(Species, "species", tuple(own_species)),
        merged(Substrate, "substrates", tuple(own_substrates)),
        frozenset(str(row.get("key")) for row in own_species),
        frozenset(str(row.get("key")) for row in own_substrates),
    )


def tables(
    species_rows: tuple[Mapping[str, Any], ...] = (), substrate_rows: tuple[Mapping[str, Any], ...] = ()
) -> Tables:
    """The shipped tables with the user's rows laid over them. Raises BundleError for a bad row."""
    return _tables(json.dumps([dict(r) for r in species_rows]), json.dumps([dict(r) for r in substrate_rows]))
