"""New ids for new records. No Qt here."""

from collections.abc import Iterable


def fresh_id(taken: Iterable[str], stem: str) -> str:
    """A new id that is not taken yet."""
    keys = set(taken)
    number = len(keys) + 1
    while f"{stem}-{number}" in keys:
        number += 1
    return f"{stem}-{number}"
