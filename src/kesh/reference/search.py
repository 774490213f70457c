"""One search for everything: species, materials, places of the window, commands, findings, words of the trade, one's own trees and pots.

What people type is compared without capitals, accents, hyphens and the plural's s. Names in other languages, trade and cultivar
names stand in the table of words, one row a word. What only nearly fits is named as that and is never taken silently.
"""

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from difflib import SequenceMatcher
from functools import lru_cache
from math import log
from typing import Literal

from kesh.base.words import folded
from kesh.model import Collection
from kesh.reference.grounds import grounds
from kesh.reference.rows import raw_table
from kesh.reference.tables import Species, Substrate, tables

Kind = Literal["species", "material", "command", "place", "finding", "word", "tree", "pot"]
PLACES = {
    "tree": "Tree", "brief": "Brief", "line-up": "Line-up", "group": "Group", "roots": "Roots", "water": "Water", "planting": "Planting", "log": "Log",
    "season": "Season", "shelf": "Shelf", "workshop": "Workshop", "reference": "Reference",
}  # fmt: skip
COMMANDS = {
    "back-up": "Back up and move", "import": "Bring in a list or a bundle", "export": "Write a bundle or a list", "settings": "Settings", "find": "Find",
    "undo": "Undo", "redo": "Do again", "new-tree": "A new tree", "new-pot": "A new pot", "print": "Print", "restore": "Take the last good copy",
    "help": "Key card", "about": "Kesh and its licences", "quit": "Close Kesh",
}  # fmt: skip
EXACT = "exact"
# the grades of a name that begins as was typed, and of one that is a slip of the pen away
BEGINS, SLIPPED = 1.8, 1.9
# how alike two spellings must be to be offered, and the shortest word for which that is tried
ALIKE, SLIP, LEAST = 0.78, 0.88, 4
# the grade of a place that holds none of the words, and the least share of them, by how telling each is, that is worth showing
WHOLE, WORTH = 2.9, 0.45
# words that carry no sense of their own in a question
STOP = frozenset(
    "a an the of for to my in on at and is are do i how what where which with by from it when should bonsai plant".split()  # noqa: SIM905
)
MOST = 12
# another species that is grown alike: offered, never taken for it
KIN = 9


How = Literal["exact", "holds", "begins", "near"]


@dataclass(frozen=True)
class Found:
    """Something that may be meant: how its name answers the words, and that in words.

    `exact` is called so, `holds` has all the words in its name, `begins` is named so as far as was typed; `near` is only near.
    """

    kind: Kind
    key: str
    name: str
    how: How
    why: str

    def as_json(self) -> dict[str, str]:
        """For the line."""
        return {"kind": self.kind, "key": self.key, "name": self.name, "why": self.why}


@dataclass(frozen=True)
class _Entry:
    kind: Kind
    key: str
    name: str
    said: str
    stems: tuple[str, ...]
    # how well this word stands for the thing: 0 its own name, 1 another name, KIN something else that is grown alike
    rank: int = 0


def plain(text: str) -> str:
    """Words without capitals, accents, and signs."""
    return re.sub(r"[^a-z0-9]+", " ", folded(text)).strip()


def stem(word: str) -> str:
    """A word without the end that tells its number or its tense."""
    for end, least in (("ies", 4), ("ses", 5), ("ches", 5), ("xes", 4), ("ing", 6), ("ed", 6), ("s", 4)):
        if word.endswith(end) and len(word) >= least and not word.endswith("ss") and not word.endswith("us"):
            left = word[: -len(end)] + ("y" if end == "ies" else end[:-2] if end in ("ses", "ches", "xes") else "")
            return left[:-1] if end in ("ing", "ed") and len(left) > 3 and left[-1] == left[-2] != "s" else left
    return word


def _stems(said: str) -> tuple[str, ...]:
    return tuple(stem(w) for w in said.split())


def _entry(kind: Kind, key: str, name: str, words: str, rank: int = 0) -> _Entry:
    said = plain(words)
    return _Entry(kind, key, name, said, _stems(said), rank)


def _parts(text: str) -> list[str]:
    return [p.strip() for p in re.split(r",|;|\band\b|\bor\b|\(|\)", text) if p.strip()]


def _of_species(listed: Mapping[str, Species]) -> Iterable[_Entry]:
    for key, row in listed.items():
        name = row.common_name or key.replace("_", " ")
        yield _entry("species", key, name, name)
        yield _entry("species", key, name, key)
        for part in _parts(row.common_name):
            yield _entry("species", key, name, part)
        for part in _parts(row.botanical_name):
            yield _entry("species", key, name, part)
            yield _entry("species", key, name, part.split()[0], 1)


def _of_materials(listed: Mapping[str, Substrate]) -> Iterable[_Entry]:
    for key, row in listed.items():
        name = f"{row.name or key}, {row.size_low_mm:g} to {row.size_high_mm:g} mm"
        for words in {row.name, key, *_parts(row.name)}:
            yield _entry("material", key, name, words)


@lru_cache(maxsize=1)
def _shipped() -> tuple[_Entry, ...]:
    """What every Kesh knows: the table of words, places, commands, findings and the words of the trade."""
    rows = tables()
    name_of: dict[str, dict[str, str]] = {
        "species": {k: r.common_name or k for k, r in rows.species.items()},
        "material": {k: f"{r.name}, {r.size_low_mm:g} to {r.size_high_mm:g} mm" for k, r in rows.substrates.items()},
        "place": PLACES, "command": COMMANDS,
    }  # fmt: skip
    found: list[_Entry] = [*_of_species(rows.species), *_of_materials(rows.substrates)]
    found += [_entry("place", k, name, name) for k, name in PLACES.items()]
    found += [_entry("command", k, name, words) for k, name in COMMANDS.items() for words in (name, k)]
    for row in raw_table("words"):
        kind, key = row["kind"], row["key"]
        rank = KIN if row.get("language") == "kin" else 1
        found.append(_entry(kind, key, name_of[kind][key], row["words"], rank))  # type: ignore[arg-type]
    for row in raw_table("glossary"):
        for i, words in enumerate((row["word"], *filter(None, row.get("also", "").split(";")))):
            found.append(_entry("word", row["key"], row["word"], words, min(i, 1)))
    for code, ground in grounds().items():
        found += [_entry("finding", code, ground.title, words) for words in (ground.title, code)]
    return tuple(found)


def _own(collection: Collection) -> Iterable[_Entry]:
    for tree in collection.trees.values():
        yield _entry("tree", tree.id, tree.name, tree.name)
        yield _entry("tree", tree.id, tree.name, tree.id)
    for pot in collection.pots.values():
        yield _entry("pot", pot.id, pot.name, pot.name)
        yield _entry("pot", pot.id, pot.name, pot.id)
    added = {str(r.get("key")) for r in collection.species_rows}
    added_soils = {str(r.get("key")) for r in collection.substrate_rows}
    if added or added_soils:
        rows = tables(collection.species_rows, collection.substrate_rows)
        yield from _of_species({k: r for k, r in rows.species.items() if k in added})
        yield from _of_materials({k: r for k, r in rows.substrates.items() if k in added_soils})


def _grade(entry: _Entry, said: str, stems: tuple[str, ...], asked: frozenset[str]) -> float | None:
    """How well an entry answers, 0 best; None where it does not."""
    if entry.said == said:
        return 0.0 + 0.1 * entry.rank
    if entry.stems == stems:
        return 0.3 + 0.1 * entry.rank
    if frozenset(entry.stems) == frozenset(stems) or (
        asked and frozenset(entry.stems) - STOP == asked - STOP != frozenset()
    ):
        return 0.45 + 0.1 * entry.rank
    own = frozenset(entry.stems) - STOP
    if asked and asked <= own:
        return 1.0 + 0.1 * entry.rank + 0.05 * len(own - asked)
    if said and (entry.said.startswith(said) or (asked and all(any(w.startswith(a) for w in own) for a in asked))):
        return BEGINS + min(0.09, 0.04 * entry.rank)
    if own and own <= asked:
        # all of what it is called was said, with more beside it
        return 2.0 + 0.1 * entry.rank + 0.2 * len(asked - own)
    return None


@lru_cache(maxsize=1)
def _bags() -> tuple[Mapping[str, frozenset[str]], Mapping[str, float]]:
    """The words of every place, and how telling each is: one that stands in all places tells nothing."""
    bags: dict[str, set[str]] = {key: set() for key in PLACES}
    for entry in _shipped():
        if entry.kind == "place":
            bags[entry.key] |= set(entry.stems)
    counts = Counter(w for bag in bags.values() for w in bag)
    return {k: frozenset(b) for k, b in bags.items()}, {w: log(1 + len(bags) / n) for w, n in counts.items()}


def _overlap(asked: frozenset[str]) -> dict[str, float]:
    """Places by the share of the words asked for that they speak of."""
    bags, telling = _bags()
    most = log(1 + len(bags))
    total = sum(telling.get(w, most) for w in asked)
    found = {key: sum(telling[w] for w in asked & bag) / total for key, bag in bags.items()} if total else {}
    return {key: share for key, share in found.items() if share >= WORTH}


def _alike(entry: _Entry, said: str) -> float:
    if abs(len(entry.said) - len(said)) > 0.35 * max(len(said), 4):
        return 0.0
    return SequenceMatcher(None, said, entry.said).ratio()


def _found(grade: float, entry: _Entry) -> Found:
    """An entry as an answer, with how it was found."""
    how: How = "near"
    if entry.rank == KIN:
        why = f"near: '{entry.said}' has no row of its own and is grown alike"
    elif grade < 0.6:
        how, why = "exact", EXACT
    elif grade < BEGINS:
        how, why = "holds", f"'{entry.said}' holds these words"
    elif grade < SLIPPED:
        how, why = "begins", f"begins like '{entry.said}'"
    elif entry.kind == "place" and SLIPPED < grade < WHOLE:
        why = f"near: {entry.name} speaks of it"
    elif SLIPPED < grade < 4.0:
        why = f"near: '{entry.said}' is part of what was typed"
    else:
        why = f"near: spelt like '{entry.said}'"
    return Found(entry.kind, entry.key, entry.name, how, why)


def find(words: str, collection: Collection | None = None, kinds: Iterable[Kind] | None = None) -> list[Found]:
    """What the words may mean, best first; empty where nothing is even near."""
    wanted = None if kinds is None else frozenset(kinds)
    every = [*_shipped(), *(() if collection is None else _own(collection))]
    return _spread(_ranked(words, [e for e in every if wanted is None or e.kind in wanted], wanted))


def find_species(words: str, listed: Mapping[str, Species]) -> list[Found]:
    """Species of a table that the words may mean, those that its owner added too."""
    shipped = [e for e in _shipped() if e.kind == "species" and e.key in listed]
    there = {e.key for e in shipped}
    return _ranked(
        words, [*shipped, *_of_species({k: r for k, r in listed.items() if k not in there})], frozenset({"species"})
    )


def _ranked(words: str, every: list[_Entry], wanted: frozenset[str] | None) -> list[Found]:
    said = plain(words)
    if not said:
        return []
    stems = _stems(said)
    asked = frozenset(stems) - STOP or frozenset(stems)
    best: dict[tuple[str, str], tuple[float, _Entry]] = {}

    def keep(grade: float, entry: _Entry) -> None:
        at = (entry.kind, entry.key)
        if at not in best or grade < best[at][0]:
            best[at] = (grade, entry)

    for entry in every:
        grade = _grade(entry, said, stems, asked)
        if grade is not None:
            keep(grade, entry)
    for key, share in _overlap(frozenset(stems) - STOP).items():
        if wanted is None or "place" in wanted:
            keep(WHOLE - share, _entry("place", key, PLACES[key], PLACES[key]))
    sure = {e.kind for g, e in best.values() if g < 2.0}
    # where a thing is called just so, what only shares a word with it is noise
    named = {e.kind for g, e in best.values() if g < 0.6}
    best = {at: (g, e) for at, (g, e) in best.items() if g < 2.0 or e.kind not in named}
    if len(said) >= LEAST:
        for entry in every:
            # a slip of the pen is looked for where nothing better of that kind was found
            if entry.kind in sure:
                continue
            like = _alike(entry, said)
            if like >= ALIKE:
                # a letter too many or too few is a slip; less than that is a guess
                keep(SLIPPED if like >= SLIP else 5.0 - like, entry)
    # of equals the commoner first: the tables begin with what is grown most
    order = {(e.kind, e.key): n for n, e in enumerate(reversed(every))}
    ranked = sorted(best.values(), key=lambda p: (p[0], -order.get((p[1].kind, p[1].key), 0)))
    return [_found(g, e) for g, e in ranked]


def _spread(found: list[Found]) -> list[Found]:
    """The best of all, then no more of one kind than can be read."""
    counts: dict[str, int] = {}
    kept = []
    for hit in found:
        counts[hit.kind] = counts.get(hit.kind, 0) + 1
        if counts[hit.kind] <= MOST:
            kept.append(hit)
    return kept


def explained(word: str) -> str:
    """What a word of the trade means, or an empty text."""
    said = plain(word)
    for row in raw_table("glossary"):
        if said in (plain(w) for w in (row["word"], *row.get("also", "").split(";"))):
            return row["means"]
    return ""
