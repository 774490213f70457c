"""Counts as people say them. No Qt here."""

import re
import unicodedata
from collections.abc import Iterable, Sequence

# the name of a field at the head of a sentence, as the files write it
FIELD = re.compile(r"^((?:[a-z][a-z0-9]*(?:_[a-z0-9]+)*)(?:\.[a-z0-9_]+)*): ")
UNITS = ("_mm", "_deg", "_l", "_kg", "_c", "_n", "_m2", "_mm2", "_cm3", "_m_s", "_w_mk", "_percent")
IRREGULAR = {"branch": "branches", "entry": "entries", "log entry": "log entries", "is": "are"}


def counted(count: int, word: str) -> str:
    """'1 tree', '2 trees', 'no tree'."""
    many = IRREGULAR.get(word, f"{word}s")
    return f"no {word}" if count == 0 else f"1 {word}" if count == 1 else f"{count} {many}"


def comma_and(parts: Sequence[str]) -> str:
    """'a', 'a and b', 'a, b and c'."""
    return " and ".join((*([", ".join(parts[:-1])] if len(parts) > 1 else []), *parts[-1:]))


def folded(text: str) -> str:
    """Small letters without accents: 'Höhe', 'hohe' and 'HÖHE' are one word, 'ß' is 'ss', 'œ' is 'oe', 'Ø' is 'o'."""
    plain = text.lower().replace("ß", "ss").replace("ø", "o").replace("œ", "oe")
    return "".join(c for c in unicodedata.normalize("NFKD", plain) if not unicodedata.combining(c))


def a_few(known: Iterable[str], most: int = 8) -> str:
    """The first of many names, with a sign that there are more: 'a, b, c …'; 'none' where there are none."""
    names = list(known)
    return (", ".join(names[:most]) + (" …" if len(names) > most else "")) or "none"


def plain_field(text: str) -> str:
    """A sentence that begins with a field's name, the name in words: 'Canopy left: has to be above 0'."""
    found = FIELD.match(text)
    if found is None:
        return text
    name = found[1].rsplit(".", 1)[-1]
    if name.isdigit() or len(name) < 2:
        name = found[1].split(".", 1)[0]
    for unit in UNITS:
        name = name.removesuffix(unit)
    words = name.replace("_", " ")
    return f"{words[:1].upper()}{words[1:]}: {text[found.end() :]}"
