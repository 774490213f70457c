"""Counts as people say them. No Qt here."""

from collections.abc import Sequence

IRREGULAR = {"entry": "entries", "log entry": "log entries", "is": "are"}


def counted(count: int, word: str) -> str:
    """'1 tree', '2 trees', 'no tree'."""
    many = IRREGULAR.get(word, f"{word}s")
    return f"no {word}" if count == 0 else f"1 {word}" if count == 1 else f"{count} {many}"


def comma_and(parts: Sequence[str]) -> str:
    """'a', 'a and b', 'a, b and c'."""
    return " and ".join((*([", ".join(parts[:-1])] if len(parts) > 1 else []), *parts[-1:]))
