"""Finding a species by any name that people call it; the search itself is the one of the whole window."""

from collections.abc import Mapping
from dataclasses import dataclass

from kesh.reference.search import find_species
from kesh.reference.tables import Species


@dataclass(frozen=True)
class Hit:
    """A species that may be meant: `exact` when it is called so, `sure` when nothing else is; `near` when it is only near, and `why` says to what."""

    key: str
    name: str
    botanical: str
    exact: bool
    sure: bool
    near: bool
    why: str


def species_like(text: str, listed: Mapping[str, Species], most: int = 12) -> list[Hit]:
    """Species that some words may mean, best first; where none is called so, those spelt most alike."""
    found = find_species(text, listed)
    alone = [hit for hit in found if hit.how == "exact"] or [hit for hit in found if hit.how == "holds"]
    return [
        Hit(
            hit.key, listed[hit.key].common_name or hit.key, listed[hit.key].botanical_name, hit.how == "exact",
            len(alone) == 1 and hit is alone[0], hit.how == "near", hit.why,
        )
        for hit in found[:most]
    ]  # fmt: skip
