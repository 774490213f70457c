"""Finding a species by any part of any of its names, as people type it."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import SequenceMatcher

from kesh.reference.tables import Species

NEAR = 0.72


@dataclass(frozen=True)
class Hit:
    """A species that may be meant: `exact` when a whole name was given, `sure` when the words begin one of its names."""

    key: str
    name: str
    botanical: str
    exact: bool
    sure: bool


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", " ", text.lower()).strip()


def species_like(text: str, listed: Mapping[str, Species], most: int = 12) -> list[Hit]:
    """Species whose names hold all the words, best first; where none does, those spelt most alike."""
    said = _plain(text)
    if not said:
        return []
    ranked: list[tuple[float, str]] = []
    for key, row in listed.items():
        names = [_plain(n) for n in (row.common_name, row.botanical_name, key) if n]
        whole = " ".join(names)
        if said in names:
            ranked.append((0.0, key))
        elif any(n.startswith(said) for n in names):
            ranked.append((1.0, key))
        elif all(any(word.startswith(w) for word in whole.split()) for w in said.split()):
            ranked.append((2.0, key))
        elif all(w in whole for w in said.split()):
            ranked.append((3.0, key))
    if not ranked:
        for key, row in listed.items():
            names = [_plain(n) for n in (row.common_name, row.botanical_name) if n]
            like = max((SequenceMatcher(None, said, n).ratio() for n in names), default=0.0)
            if like >= NEAR:
                ranked.append((10 - like, key))
    ranked.sort(key=lambda r: (r[0], listed[r[1]].common_name or r[1]))
    first = sum(1 for grade, _ in ranked if grade == ranked[0][0]) if ranked else 0
    return [
        Hit(key, listed[key].common_name or key, listed[key].botanical_name, grade == 0.0, grade <= 1.0 and first == 1)
        for grade, key in ranked[:most]
    ]
