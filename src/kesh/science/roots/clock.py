"""How long roots may lie bare before they want mist and cover (docs/methods.md, "root clock").

Ten minutes to start with, half of it over 25 degrees or in wind [J]; fine root felts sooner, fleshy roots that store water not at all.
"""

from dataclasses import dataclass

from kesh.reference.tables import Species

START_MIN, WARM_C = 10.0, 25.0
# peaty felts of heaths dry fastest, fleshy roots of plants that store water are left to dry on purpose [J]
FELTED = ("Rhododendron", "Kalmia", "Erica", "Enkianthus", "Pieris")


@dataclass(frozen=True)
class Prompts:
    """Minutes after which bare roots are misted, and after which they are covered or set in water; none for plants that may dry."""

    mist_min: float | None
    cover_min: float | None
    why: str


def prompts(species: Species | None, air_c: float | None, *, warm: bool = False, windy: bool = False) -> Prompts:
    """When to mist and when to cover; `warm` and `windy` are what somebody at the bench says, above any table."""
    if species is not None and species.group == "succulent":
        return Prompts(None, None, "stores water: cuts and roots may dry")
    minutes, why = START_MIN, ["10 minutes to start with"]
    genus = species.botanical_name.split(" ")[0] if species else ""
    if genus in FELTED:
        minutes *= 0.7
        why.append("a fine felt dries sooner")
    hot = warm or (air_c is not None and air_c > WARM_C)
    if hot or windy:
        minutes /= 2
        why.append("halved: " + " and ".join(w for w, on in (("over 25 °C", hot), ("wind", windy)) if on))
    return Prompts(minutes, 2 * minutes, "; ".join(why))
