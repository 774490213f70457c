"""Words of the trade in a sentence or a label, each with what it means, from the list of words."""

import re
from functools import cache, lru_cache

from kesh.base.words import folded
from kesh.reference.rows import raw_table

# shorter ones stand in too many other words, and these are said by everybody
LEAST = 4
EVERYDAY = frozenset({"pot", "pots", "tree", "root", "roots", "soil", "water", "tray", "leaf", "trunk", "feet", "foot"})


@cache
def _known() -> tuple[re.Pattern[str], dict[str, tuple[str, str]]]:
    """(a pattern of all words, what each means by its folded form)."""
    means: dict[str, tuple[str, str]] = {}
    for row in raw_table("glossary"):
        for said in (row["word"], *row.get("also", "").split(";")):
            plain = folded(said.strip())
            if len(plain) >= LEAST and plain not in EVERYDAY:
                means.setdefault(plain, (row["word"], row["means"]))
    longest = sorted(means, key=len, reverse=True)
    return re.compile(r"(?<!\w)(" + "|".join(map(re.escape, longest)) + r")(?:s|es)?(?!\w)"), means


@lru_cache(maxsize=4000)
def words_in(text: str, most: int = 3) -> tuple[tuple[str, str], ...]:
    """(word, what it means) of the words of the trade in a text, in their order, each once."""
    pattern, means = _known()
    found = dict.fromkeys(means[hit[1]] for hit in pattern.finditer(folded(text)))
    return tuple(found)[:most]


def meanings(text: str) -> str:
    """What the words of the trade in a text mean, a line each; empty where there are none."""
    return "\n".join(f"{word[:1].upper()}{word[1:]}: {told}" for word, told in words_in(text))
