"""What a rock asks of a pot that is designed for it."""

from kesh.advice.case import Case
from kesh.advice.design.limit import WALL_MM, Limit, Sizes
from kesh.advice.figures import Figures
from kesh.model import Planting
from kesh.science.special.rock import depth_at_mm, half_widths_mm

# mix between rock and wall, at least
ASKED_ROOM_MM = 15.0


def sizes(case: Case, p: Planting) -> Sizes:
    """Round which sizes to search: the rock with room all round it."""
    if p.rock is None:
        return Sizes()
    broad = max(x for x, _ in p.rock.points_mm) - min(x for x, _ in p.rock.points_mm)
    depths = (p.rock.sunk_mm + 20.0, 2.0 * p.rock.sunk_mm + 40.0)
    return Sizes((broad + 2 * (ASKED_ROOM_MM + WALL_MM), 2.0 * broad), depths)


def limits(f: Figures, p: Planting) -> tuple[Limit, ...]:
    """Room beside, before and behind the rock where it stands in the soil."""
    if p.rock is None:
        return ()
    left, right = (float(v) for v in half_widths_mm(p.rock.points_mm, p.rock.sunk_mm))
    thick = float(depth_at_mm(p.rock.points_mm, p.rock.depth_mm, p.rock.sunk_mm))
    beside = (f.pots.length - 2 * f.pots.wall - (right - left)) / 2
    before = (f.pots.width - 2 * f.pots.wall - thick) / 2
    return (
        Limit("rock_length", "room beside the rock", "mm", beside, ASKED_ROOM_MM, ASKED_ROOM_MM, False, False),
        Limit("rock_width", "room before and behind the rock", "mm", before, ASKED_ROOM_MM, ASKED_ROOM_MM, False, False),
    )  # fmt: skip
