"""Finding a species by any name that people call it; the search itself is the one of the whole window."""

from collections.abc import Mapping
from dataclasses import dataclass

from kesh.reference.search import EXACT, find_species
from kesh.reference.tables import Species


@dataclass(frozen=True)
class Hit:
    """A species that may be meant: `exact` when it is called so, `sure` when nothing else is; `why` says what was near."""

    key: str
    name: str
    botanical: str
    exact: bool
    sure: bool
    why: str = EXACT


def species_like(text: str, listed: Mapping[str, Species], most: int = 12) -> list[Hit]:
    """Species that some words may mean, best first; where none is called so, those spelt most alike."""
    found = find_species(text, listed)
    exact = [hit for hit in found if hit.why == EXACT]
    alone = exact if exact else [hit for hit in found if hit.why.endswith("holds these words")]
    return [
        Hit(
            hit.key, listed[hit.key].common_name or hit.key, listed[hit.key].botanical_name, hit.why == EXACT,
            len(alone) == 1 and hit is alone[0], hit.why,
        )
        for hit in found[:most]
    ]  # fmt: skip
