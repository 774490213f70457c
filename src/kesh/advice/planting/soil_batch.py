"""The soil of one planting, place by place and component by component: what to measure out, in litres and scoops, and what is missing."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.kinds.kinds import worked_as
from kesh.advice.rules.roots import SAWN, saw_allowed
from kesh.geometry.volume import inner_area_mm2, inner_volume_l
from kesh.science.roots.heap import DRY_SLOPE_DEG, WET_SLOPE_DEG, Heap, heap
from kesh.science.season.learning import Learned, learned

# soil sinks when it is watered in, and some is spilled; growers' habit [J]
SETTLING, WASTE, SCOOP_L = 0.10, 0.05, 0.5
SCOOP_KEY = "scoop"
LAYER, UNDER, AROUND, MOUND = "layer", "under", "around", "mound"
PLACE_WORDS = {LAYER: "Coarse layer", UNDER: "Under the roots", AROUND: "All round", MOUND: "Mound"}


# soil that lacks no more than this share is within what its settling is known to [J]; less than this is nothing
HAIR_SHARE, NOUGHT = 0.03, 0.005


def shortage(need: float, have: float, *, soil: bool) -> str:
    """fits, watch or no: enough, soil that lacks a hair, or something to get first."""
    missing = need - have
    return "fits" if missing <= NOUGHT else "watch" if soil and missing <= HAIR_SHARE * need else "no"


@dataclass(frozen=True)
class BatchLine:
    """One component: loose litres to measure out with what sinks and spills, and what lies in the shed (None: not said)."""

    key: str
    name: str
    grains: str
    litres: float
    scoop_l: float
    have_l: float | None
    dry_kg: float

    @property
    def scoops(self) -> float:
        """Scoops of the user's own scoop."""
        return self.litres / self.scoop_l

    @property
    def missing_l(self) -> float:
        """What has to be got before the tree is lifted; nought where nobody said what there is."""
        return 0.0 if self.have_l is None else max(self.litres - self.have_l, 0.0)

    @property
    def status(self) -> str:
        """Whether what there is reaches: fits, watch or no; fits too where nobody said."""
        return "fits" if self.have_l is None else shortage(self.litres, self.have_l, soil=True)


@dataclass(frozen=True)
class Batch:
    """Net litres by place, the components of mix and layer, and what was added for sinking and waste."""

    places_l: dict[str, float]
    lines: tuple[BatchLine, ...]
    settling: Learned
    loss: float
    scoop_l: float
    heap_dry: Heap | None
    heap_wet: Heap | None
    # how high the mound under the roots is: never more than a third of the pot or of the hollow it fills, none under a flat cut
    heap_mm: float = 0.0

    @property
    def net_l(self) -> float:
        """Room for fresh mix and layer, as it lies in the pot."""
        return sum(self.places_l.values())

    @property
    def total_l(self) -> float:
        """Loose litres in all."""
        return sum(line.litres for line in self.lines)

    @property
    def dry_kg(self) -> float:
        """What it weighs dry."""
        return sum(line.dry_kg for line in self.lines)

    @property
    def second_l(self) -> float:
        """What is kept back for the second helping, when the first has sunk."""
        return self.total_l * (1 - 1 / (1 + self.settling.value + WASTE))


def soil_batch(a: Assessment) -> Batch | None:
    """The batch of one planting, or None without a mix or a pot that holds soil."""
    f, case = a.figures, a.case
    if case.blend is None or not f.plantable[0]:
        return None
    settling = learned(SETTLING, case.settled)
    scoop = case.stock.get(SCOOP_KEY)
    scoop_l = scoop.have if scoop is not None and scoop.have > 0 else SCOOP_L
    more = 1 + settling.value + WASTE
    lines = []
    for key, litres in f.components_l(0).items():
        row, held = case.tables.substrate(key), case.stock.get(key)
        lines.append(
            BatchLine(
                key, row.name, f"{row.size_low_mm:g}–{row.size_high_mm:g} mm", litres * more, scoop_l,
                None if held is None else held.have, litres * more * row.dry_bulk_density_g_per_l / 1000,
            )
        )  # fmt: skip
    places = places_l(a)
    dry, wet = _heaps(a, places.get(UNDER, 0.0) * (1 + settling.value))
    return Batch(places, tuple(lines), settling, case.blend.volume_loss, scoop_l, dry, wet, heap_mm(a, dry, wet))


def places_l(a: Assessment) -> dict[str, float]:
    """Net litres by place: layer, under the roots, all round, mound; they add up to the room there is."""
    f, base = a.figures, a.figures.root_base
    fresh, layer = float(f.fresh_soil_l[0]), float(f.layer_l[0])
    mound = min(float(f.mound_l[0]), fresh)
    under = 0.0
    if base is not None:
        to_foot = float(inner_volume_l(f.pots, np.array([base.foot_mm]))[0]) * float(f.body.volume_factor[0])
        under = min(max(to_foot - layer, 0.0), fresh - mound)
    found = {LAYER: layer, UNDER: under, AROUND: fresh - mound - under, MOUND: mound}
    return {place: litres for place, litres in found.items() if litres > 1e-9}


# share of the pot's inner depth, and of the root mass's own depth, that a mound under the roots has at most [J]
HEAP_OF_POT, HEAP_OF_MASS = 1 / 3, 1 / 3
# kinds that stand on a level bed
FLAT_KINDS = frozenset({"fruit_tub", "exposed_root", "rock", "group", "pair", "cutting", "slab", "desert", "layer"})


def heap_mm(a: Assessment, dry: Heap | None, wet: Heap | None) -> float:
    """Height of the mound the roots are turned into, mm; nought under a flat cut, an untouched mass, and for kinds that stand level."""
    f, roots, views = a.figures, a.case.roots, a.case.brief.root_views
    flat = views.amount in SAWN and saw_allowed(f)
    if dry is None or wet is None or roots is None or f.roots is None or views.amount == "nothing" or flat:
        return 0.0
    if worked_as(a.case.planting, a.case.tree, a.case.species) in FLAT_KINDS:
        return 0.0
    own = wet.height_mm if organic(a) else dry.height_mm
    kept = float(f.roots.kept_depth_mm[0])
    return float(min(own, HEAP_OF_POT * float(f.pots.inner_depth[0]), HEAP_OF_MASS * kept))


def organic(a: Assessment) -> bool:
    """Whether something that once lived is in the mix."""
    case = a.case
    parts = case.mix.parts if case.mix is not None else ()
    return any(case.tables.substrate(p.substrate).kind == "organic" for p in parts if (p.parts or 0) > 0)


def _heaps(a: Assessment, under_l: float) -> tuple[Heap | None, Heap | None]:
    """The heap the tree is pressed into, of dry grains and of wetted ones; none where nothing lies under the roots."""
    if under_l <= 0:
        return None, None
    area = float(inner_area_mm2(a.figures.pots, np.zeros((1, 1)))[0, 0])
    wide = 2 * float(np.sqrt(max(area, 0.0) / np.pi))
    return heap(under_l, DRY_SLOPE_DEG, wide), heap(under_l, WET_SLOPE_DEG, wide)
