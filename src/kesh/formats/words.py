"""Words other people write for finish and feet, read as the words Kesh keeps. What is not understood is noted, not lost."""

import re
from typing import Any

# looked for as whole words, first hit counts: a bare word beats the glaze it denies, a bright one the plain "glaze"
FINISH = (
    ("unglazed", ("unglazed", "un glazed", "not glazed", "no glaze", "non glazed", "without glaze", "bare", "raw", "natural", "unfinished clay", "burnished")),
    ("painted", ("painted", "paint", "lacquered", "lacquer", "enamelled", "enamel")),
    ("bright_glaze", ("bright glaze", "bright", "gloss", "glossy", "shiny", "high gloss", "vivid", "crackle", "crystalline")),
    ("muted_glaze", (
        "muted glaze", "glazed", "glaze", "matt", "matte", "satin", "muted", "semi matt", "celadon", "ash", "oribe",
        "tenmoku", "engobe", "slip", "salt",
    )),
    ("as_made", ("as made", "as bought", "none", "plain", "oiled", "oil", "charred", "stained", "plastic", "wood", "untreated")),
)  # fmt: skip
FEET = (
    ("cloud", ("cloud", "curved", "ogee", "fret", "scroll", "corner")),
    ("ring", ("ring", "round", "band", "belt", "recessed")),
    ("none", ("none", "no feet", "flat", "footless")),
    ("block", ("block", "square", "straight", "cut", "plain", "column", "leg")),
)


def _plain(text: str) -> str:
    return " ".join(re.split(r"[^a-z]+", text.lower())).strip()


def read_as(text: str, table: tuple[tuple[str, tuple[str, ...]], ...]) -> str | None:
    """The key of a table that some words mean, None when none is understood."""
    said = f" {_plain(text)} "
    for key, words in table:
        if any(f" {word} " in said or f" {word}s " in said for word in (_plain(key), *words)):
            return key
    return None


def kept_words(fields: dict[str, Any]) -> dict[str, Any]:
    """The fields of a pot with finish, feet and colour in Kesh's words; what was not understood goes into the notes."""
    found, noted = dict(fields), []
    for name, table, fallback in (("finish", FINISH, "as_made"), ("feet_style", FEET, None)):
        given = found.get(name)
        if given is None:
            continue
        key = read_as(str(given), table)
        if key is None:
            noted.append(f"{name.replace('_', ' ')} as written: {given}")
        if key or fallback:
            found[name] = key or fallback
        else:
            found.pop(name)
    colour = found.get("colour")
    if colour is not None and not re.fullmatch(r"#[0-9A-Fa-f]{6}", str(colour)):
        noted.append(f"colour as written: {colour}")
        found.pop("colour")
    if noted:
        found["notes"] = "; ".join(filter(None, [found.get("notes"), *noted]))
    return found
