"""What the views on root work change: the limit, the sides left alone in turn, points of faults, and in words."""

from kesh.model import RootViews, Sector
from kesh.reference.schools import School
from kesh.reference.tables import Species

# half at once, and as much as a plant bears that roots like a cutting [J]
HALF, LIKE_A_CUTTING = 0.5, 0.95
# a hair less than a quarter, so that a root on the line between two sides has its turn
QUARTER_DEG = 89.9
IRREGULAR = {"rising": 0.0, "crossing": 0.0}
RADIAL = {"rising": 2.0, "crossing": 2.0}


def roots_like_cuttings(species: Species) -> bool:
    """Whether a plant without roots makes new ones: succulents, palm-like plants, and tropical trees that bear every cut."""
    hardy = species.class_key == "tropical" and species.bare_root_ok == "yes" and species.flat_bottom_saw_ok == "yes"
    return species.stores_water or hardy


def bears(species: Species, views: RootViews) -> bool:
    """Whether a species bears the amount that is wanted; where it does not its own limit stays."""
    return {
        "stages": True, "nothing": True, "half": species.bare_root_ok == "yes", "saw": species.flat_bottom_saw_ok == "yes",
        "all": roots_like_cuttings(species),
    }[views.amount]  # fmt: skip


def limit_by_view(limit: float, species: Species, views: RootViews) -> float:
    """The feeder share that one repotting may take of a healthy tree in the best season, by the grower's view."""
    if views.amount == "nothing":
        return 0.0
    if not bears(species, views):
        return limit
    return {"half": max(limit, HALF), "saw": max(limit, HALF), "all": LIKE_A_CUTTING}.get(views.amount, limit)


def sides_in_turn(views: RootViews) -> tuple[tuple[Sector, ...], ...]:
    """Two opposite quarters left alone now and the other two at the next repotting; none where all sides are worked."""
    if views.old_soil != "sides":
        return ()

    def pair(start: float) -> tuple[Sector, ...]:
        return tuple(
            Sector(
                from_deg=(a - QUARTER_DEG / 2) % 360, to_deg=(a + QUARTER_DEG / 2) % 360, why="its turn is next time"
            )
            for a in (start, start + 180)
        )

    # the front and the back are worked first: there a display is seen and there roots are lifted
    return pair(90.0), pair(0.0)


def points_by_view(school: School, views: RootViews) -> dict[str, float]:
    """Points of faults that this grower sees otherwise than the table."""
    found = dict(school.root_points)
    return {"school": found, "radial": found | RADIAL, "irregular": found | IRREGULAR}[views.plate]
