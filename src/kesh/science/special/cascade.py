"""Cascades: the air under the tail, tipping with the drop's own weight and area, the counterweight (docs/methods.md, "cascade and stand")."""

from dataclasses import dataclass
from math import atan2, degrees, radians, tan

from kesh.base.errors import FieldError

CLEAR_MM, ASKED_DEG = 30.0, 20.0


def clear_air_mm(pot_mm: float, stand_mm: float, seat_mm: float, drop_mm: float) -> float:
    """Air between the lowest tip and the bench: pot and stand, with the tree's soil `seat_mm` over the rim, less the drop."""
    return pot_mm + stand_mm + seat_mm - drop_mm


def stand_for_mm(pot_mm: float, seat_mm: float, drop_mm: float) -> float:
    """Height of the stand that gives 30 mm of air; 0 where the pot is tall enough."""
    return max(CLEAR_MM - (pot_mm + seat_mm - drop_mm), 0.0)


@dataclass(frozen=True)
class Tip:
    """Tipping towards the tail: centre of gravity, arm to the edge it turns about, angle."""

    mass_kg: float
    cog_mm: float
    arm_mm: float
    tip_deg: float


def tip_with_tail(
    mass_kg: float, cog_mm: float, edge_mm: float, tail_kg: float, tail_out_mm: float, tail_mm: float, weight_kg: float = 0.0, weight_mm: float = 0.0
) -> Tip:  # fmt: skip
    """The pot (mass, centre over the bench, distance of its middle to the edge on the tail's side) with the tail beside it.

    `tail_out_mm` is the tail's middle outside that edge (+), `tail_mm` its height over the bench; `weight_kg` lies at the floor,
    `weight_mm` over the bench. Raises FieldError for masses that are none.
    """
    if not mass_kg > 0 or tail_kg < 0 or weight_kg < 0:
        raise FieldError("mass_kg", "masses are above 0")
    total = mass_kg + tail_kg + weight_kg
    arm = ((mass_kg + weight_kg) * edge_mm - tail_kg * tail_out_mm) / total
    high = (mass_kg * cog_mm + tail_kg * tail_mm + weight_kg * weight_mm) / total
    return Tip(total, high, arm, degrees(atan2(arm, max(high, 1.0))))


def counterweight_kg(
    mass_kg: float, cog_mm: float, edge_mm: float, tail_kg: float, tail_out_mm: float, tail_mm: float, weight_mm: float, asked_deg: float = ASKED_DEG
) -> float:  # fmt: skip
    """Mass at the floor that gives 20 degrees: linear in the mass, so solved at once; 0 where it stands already.

    Raises FieldError where no mass can, because the floor's own edge is nearer than its height allows.
    """
    t = tan(radians(asked_deg))
    # arm >= t x height: (m + w) e - k out >= t (m h + k hk + w hw)
    lack = t * (mass_kg * cog_mm + tail_kg * tail_mm) - (mass_kg * edge_mm - tail_kg * tail_out_mm)
    gain = edge_mm - t * weight_mm
    if lack <= 0:
        return 0.0
    if gain <= 0:
        raise FieldError("counterweight", "no weight at the floor makes so narrow a foot stand; take a wider pot")
    return lack / gain
