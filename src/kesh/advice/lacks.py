"""What a finding would want to know: the figures that are missing where nothing can be said, each with the record it stands in."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from kesh.advice.assess import Assessment
from kesh.model.tree import HANGING

Sort = Literal["mm", "species", "mix", "holes", "climate"]


@dataclass(frozen=True)
class Lack:
    """One thing that is missing: `record` is tree, root, brief, pot or site; `name` its field there."""

    record: str
    name: str
    label: str
    sort: Sort = "mm"


TREE = {
    "height": Lack("tree", "height_mm", "Height"), "trunk": Lack("tree", "trunk_diameter_mm", "Trunk above flare"),
    "left": Lack("tree", "canopy_left_mm", "Reach left"), "right": Lack("tree", "canopy_right_mm", "Reach right"),
    "drop": Lack("tree", "drop_mm", "Drop below soil"),
}  # fmt: skip
ROOT = {
    "length": Lack("root", "length_mm", "Root mass length"), "width": Lack("root", "width_mm", "Root mass width"),
    "depth": Lack("root", "depth_mm", "Root mass depth"),
}  # fmt: skip
SPECIES, MIX = Lack("tree", "species", "Species", "species"), Lack("brief", "mix", "Mix", "mix")
HOLES, CLIMATE = Lack("pot", "holes", "Holes", "holes"), Lack("site", "months", "Climate", "climate")
SIZES = (TREE["height"], TREE["trunk"], TREE["left"], TREE["right"])
ROOTS = tuple(ROOT.values())
WATER = (SPECIES, MIX, CLIMATE, TREE["left"], TREE["right"])
# of each finding what it rests on, in the order in which it is asked
RESTS_ON: Mapping[str, tuple[Lack, ...]] = {
    "depth_band": (TREE["trunk"],), "length_band": (TREE["height"], TREE["left"], TREE["right"], TREE["drop"]),
    "width_band": (TREE["height"], TREE["left"], TREE["right"], TREE["drop"]), "visual_mass": SIZES, "finish": (SPECIES,),
    "root_removal": (*ROOTS, SPECIES), "root_depth": ROOTS, "root_sides": ROOTS, "lift_out": ROOTS, "flat_saw": (*ROOTS, SPECIES), "bare_root": (*ROOTS, SPECIES),
    "season": (SPECIES, CLIMATE), "before_lift": (SPECIES,), "drain_holes": (HOLES,), "holes": (HOLES,),
    "wet_foot": (SPECIES, MIX), "wet_share": (SPECIES, MIX), "mix_ph": (SPECIES, MIX), "watering_days": WATER,
    "dry_summer": WATER, "wet_winter": WATER, "night_at_risk": (SPECIES, CLIMATE), "hot_wall": (SPECIES, CLIMATE),
    "lift_mass": (*SIZES, MIX), "tipping": (*SIZES, MIX), "wind": (*SIZES, MIX), "frost": (CLIMATE,), "bench_length": SIZES[:1],
    "doorway": SIZES[:1], "car_height": SIZES[:1], "show_height": SIZES[:1], "tie_hold": (*ROOTS, *SIZES), "species": (SPECIES,),
}  # fmt: skip


def _missing(a: Assessment, one: Lack) -> bool:
    case = a.case
    if one.sort == "species":
        return case.species is None
    if one.sort == "mix":
        return case.blend is None
    if one.sort == "holes":
        return not a.pot.holes_known
    if one.sort == "climate":
        return case.site is None or not case.site.months
    if one.record == "root":
        return case.roots is None
    if one.name == "drop_mm" and case.tree.style not in HANGING:
        return False
    return getattr(case.tree.measure, one.name) is None


def lacking(a: Assessment | None, code: str, status: str) -> tuple[Lack, ...]:
    """What would let a finding be judged that cannot be; nothing where it can."""
    if a is None or status != "unknown":
        return ()
    return tuple(one for one in RESTS_ON.get(code.split("/")[0], ()) if _missing(a, one))
