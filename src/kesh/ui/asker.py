"""Questions that stop the work: file names, a unit. Replaced in tests, so that none blocks."""

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget


class Asker:
    """Asks with the desktop's own dialogs."""

    def open_file(self, parent: QWidget, title: str, folder: Path, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _ = QFileDialog.getOpenFileName(parent, title, str(folder), kinds)
        return Path(name) if name else None

    def save_file(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> Path | None:
        """A file to write, or None."""
        name, _ = QFileDialog.getSaveFileName(parent, title, str(suggested), kinds)
        return Path(name) if name else None

    def choose(self, parent: QWidget, title: str, question: str, options: list[str]) -> str | None:
        """One of a few words, or None."""
        word, sure = QInputDialog.getItem(parent, title, question, options, 0, False)
        return word if sure else None
