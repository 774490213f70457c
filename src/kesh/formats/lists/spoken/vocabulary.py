"""The table of words that lists are written in: heads, outlines, finishes, colours, counts, units, money, in the usual languages."""

import re
import unicodedata
from difflib import get_close_matches
from functools import cache, lru_cache

from kesh.base.units import FRACTIONS
from kesh.base.words import folded
from kesh.reference.rows import raw_table

SIGNS = str.maketrans(
    {"″": '"', "”": '"', "“": '"', "×": "x", "✕": "x", "*": "x", "–": "-", "—": "-", "\N{MINUS SIGN}": "-", "⌀": "ø", "∅": "ø", "\N{NO-BREAK SPACE}": " ", "\N{NARROW NO-BREAK SPACE}": " "}
)  # fmt: skip
# the shortest word for which a slip is looked for, and how alike the two must be
LEAST, ALIKE = 4, 0.8
# so much of a cell is quoted
SHOWN = 40
# cells of a list say the same again and again: so many different ones are kept as read
KEPT = 20_000


def tidy(text: str) -> str:
    """Lower case, one kind of each sign, fractions as figures with a bar, marks of writing direction left out."""
    plain = text.translate(SIGNS).replace("''", '"').lower()
    for sign, figure in FRACTIONS.items():
        plain = plain.replace(sign, figure)
    return " ".join("".join(c for c in plain if unicodedata.category(c) not in ("Cf", "Cc") or c in "\t\n ").split())


@lru_cache(maxsize=KEPT)
def bare(text: str) -> str:
    """Tidy words without accents, for comparing what people write with or without them."""
    # the sign of a diameter is no letter with an accent here
    return folded(tidy(text).replace("ø", "\0")).replace("\0", "ø")


def quoted(text: str) -> str:
    """What was written, in short, for a sentence."""
    plain = " ".join(text.split())
    return f"'{plain[:SHOWN]}…'" if len(plain) > SHOWN else f"'{plain}'"


@cache
def meanings(kind: str) -> dict[str, str]:
    """What each word of a kind means."""
    return {bare(r["words"]): r["means"] for r in raw_table("list_words") if r["kind"] == kind}


@cache
def colour_name(colour: str) -> str:
    """The English word of a colour of the table."""
    return next(r["name"] for r in raw_table("list_words") if r["kind"] == "colour" and r["means"] == colour)


@cache
def ways(kind: str) -> re.Pattern[str]:
    """One pattern for all words of a kind, the longest first."""
    words = sorted(meanings(kind), key=len, reverse=True)
    return re.compile("|".join(rf"(?<![a-zø]){re.escape(w)}(?![a-z])" for w in words))


@lru_cache(maxsize=KEPT)
def nearly(text: str, kind: str) -> tuple[tuple[str, str], ...]:
    """(word as written, meaning) for words that are a slip of the pen away from one of a kind; names that are short are not guessed."""
    table = meanings(kind)
    long = [w for w in table if len(w) >= LEAST]
    found = []
    for token in re.findall(rf"[a-z]{{{LEAST},}}", bare(text)):
        close = get_close_matches(token, long, 1, ALIKE)
        if close and token not in table:
            found.append((token, table[close[0]]))
    return tuple(found)


@lru_cache(maxsize=KEPT)
def said(text: str, kind: str) -> tuple[tuple[str, str], ...]:
    """(word, meaning) for every word of a kind in a text, as they stand."""
    table = meanings(kind)
    return tuple((m.group(), table[m.group()]) for m in ways(kind).finditer(bare(text)))
