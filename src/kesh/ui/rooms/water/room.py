"""Step Water: how long a pot lasts, and how dry and wet its year is."""

from kesh.ui.rooms.room import Command, Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    a = s.assessment() if s.tree is not None else None
    days = None if a is None or a.figures.use is None else float(a.figures.use.days_between[0])
    if days is None or not days < 60:
        return "not yet" if s.tree is not None else "", False
    return f"every {days:.1f} days", True


WATER = Room(
    "water", "step", "Water", "The year in this pot: dry days, wet days, how long it lasts", "kesh.ui.rooms.water.face:WaterFace",
    note=_note,
    commands=(
        Command("keep_mix", "Keep this mix for the tree", "Ctrl+Alt+M", "Steps", "keep", also="recipe version substrate soil"),
    ),
    sheet_keys=(("T, arrows", "one watering: tilt, hours and mound"),),
    also="watering drought dry wet rain roof holiday away evapotranspiration climate summer winter year distress drainage",
)  # fmt: skip
