"""Counts as people say them. No Qt here."""

IRREGULAR = {"entry": "entries", "log entry": "log entries", "is": "are"}


def counted(count: int, word: str) -> str:
    """'1 tree', '2 trees', 'no tree'."""
    many = IRREGULAR.get(word, f"{word}s")
    return f"no {word}" if count == 0 else f"1 {word}" if count == 1 else f"{count} {many}"
