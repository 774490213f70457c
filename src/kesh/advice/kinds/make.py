"""Which plan a planting gets: one row a kind."""

from collections.abc import Mapping
from types import MappingProxyType

from kesh.advice.kinds import aerial, cascade, desert, rock, shared, slab, tub, tube, young
from kesh.advice.kinds.kinds import kind_of
from kesh.advice.kinds.plan import Make, Setting, SpecialPlan

MAKERS: Mapping[str, Make] = MappingProxyType(
    {
        "rock": rock.make, "exposed_root": tube.make, "cascade": cascade.make, "layer": young.layer, "cutting": young.cutting,
        "fruit_tub": tub.fruit_tub, "desert": desert.desert, "companion": shared.companion, "graft": shared.graft, "aerial": aerial.aerial,
        "slab": slab.make,
    }
)  # fmt: skip


def special_plan(s: Setting) -> SpecialPlan | None:
    """The plan of a special planting; None for a plain one, and for groups, which have a step of their own."""
    make = MAKERS.get(kind_of(s.planting, s.a.case.tree))
    return None if make is None else make(s)
