"""What goes under a pot: a drip tray that catches a watering, a stand that carries it; both are designs like any other."""

from kesh.geometry.columns import columns
from kesh.geometry.feet import base_ring, with_feet
from kesh.geometry.volume import body
from kesh.model import Outline, Pot, Profile
from kesh.science.making.strength import FLOOR_BY_WALL, usual_wall

TRAY_ROOM_MM, TRAY_DEEP_MM, TRAY_SHARE = 14.0, 16.0, 0.12
STAND_OVER_MM, STAND_THICK_MM, STAND_SHARE, STAND_FEET_MM = 18.0, 14.0, 0.03, 26.0


def _base(pot: Pot) -> tuple[float, float]:
    ring = base_ring(pot)
    return float(ring[:, 0].max() - ring[:, 0].min()), float(ring[:, 1].max() - ring[:, 1].min())


def _outline(pot: Pot, length: float, width: float) -> Outline:
    """The pot's own outline where it can be had at another size, else an oval round it."""
    if pot.outline.kind == "free":
        return Outline(kind="oval")
    if pot.outline.kind == "rectangle":
        return pot.outline.changed(
            corner_mm=round(min(pot.outline.corner_mm + TRAY_ROOM_MM / 2, min(length, width) / 2), 1)
        )
    return pot.outline


def drip_tray(pot: Pot, key: str) -> Pot:
    """A tray round the pot's foot with room for the fingers, deep enough for an eighth of what the pot holds.

    Raises FieldError for a shape that cannot be.
    """
    long, wide = _base(pot)
    wall = max(5.0, round(0.8 * float(usual_wall(pot.material, pot.length_mm)), 1))
    inset = 4.0
    length, width = (round(v + 2 * (TRAY_ROOM_MM + wall + inset)) for v in (long, wide))
    if pot.outline.kind == "round":
        width = length
    holds = float(body(columns([pot])).inner_volume_l[0]) if pot.profile.kind != "slab" else 0.5
    room = max((length - 2 * wall) * (width - 2 * wall) - 0.9 * long * wide, 0.1 * length * width)
    deep = max(TRAY_DEEP_MM, min(TRAY_SHARE * holds * 1e6 / room, 40.0))
    floor = round(FLOOR_BY_WALL * wall, 1)
    return Pot.made(
        id=key, name=f"Drip tray, {pot.name}"[:80], outline=_outline(pot, length, width), profile=Profile(base_inset_mm=inset),
        length_mm=length, width_mm=width, height_mm=round(deep + floor), wall_mm=wall, floor_mm=floor, feet_mm=0.0, feet_style="none",
        material=pot.material, finish=pot.finish, colour=pot.colour, state="design", made_for=pot.made_for,
        notes="Empty it after watering: a pot that stands in water drains no further.",
    )  # fmt: skip


def stand(pot: Pot, key: str) -> Pot:
    """A board on feet, a hand's breadth wider than the pot's foot, as thick as its length asks."""
    long, wide = _base(pot)
    length, width = (
        round(v + 2 * STAND_OVER_MM) for v in (max(long, 0.9 * pot.length_mm), max(wide, 0.9 * pot.width_mm))
    )
    if pot.outline.kind == "round":
        width = length
    thick = round(max(STAND_THICK_MM, STAND_SHARE * length))
    made = Pot.made(
        id=key, name=f"Stand, {pot.name}"[:80], outline=_outline(pot, length, width), profile=Profile(kind="slab", base_inset_mm=3.0),
        length_mm=length, width_mm=width, height_mm=thick + STAND_FEET_MM, wall_mm=8.0, floor_mm=float(thick) - 1.0, feet_mm=STAND_FEET_MM,
        feet_style="block", material="timber_oak", finish="as_made", colour="#5A4130", state="design", made_for=pot.made_for,
    )  # fmt: skip
    return with_feet(made)
