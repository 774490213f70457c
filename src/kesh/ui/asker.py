"""Questions that stop the work: file names, a choice. Replaced in tests, so that none blocks."""

import re
from pathlib import Path

from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QWidget


def both_cases(kinds: str) -> str:
    """Endings in small and in capital letters: other systems write both."""
    return re.sub(r"\*\.(\w+)", lambda m: f"{m[0]} *.{m[1].upper()}", kinds)


class Asker:
    """Asks with the desktop's own dialogs."""

    def open_file(self, parent: QWidget, title: str, folder: Path, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _ = QFileDialog.getOpenFileName(parent, title, str(folder), both_cases(kinds))
        return Path(name) if name else None

    def save_file(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> Path | None:
        """A file to write, or None."""
        return self.save_as(parent, title, suggested, kinds)[0]

    def save_as(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> tuple[Path | None, str]:
        """A file to write, or None, and which of the kinds was asked for."""
        name, kind = QFileDialog.getSaveFileName(parent, title, str(suggested), kinds)
        return (Path(name) if name else None), kind

    def folder(self, parent: QWidget, title: str, start: Path) -> Path | None:
        """A folder to write into, or None."""
        name = QFileDialog.getExistingDirectory(parent, title, str(start))
        return Path(name) if name else None

    def choose(self, parent: QWidget, title: str, question: str, options: list[str]) -> str | None:
        """One of a few words, or None."""
        word, sure = QInputDialog.getItem(parent, title, question, options, 0, False)
        return word if sure else None

    def agree(self, dialog: QDialog) -> bool:
        """Whether a dialog was closed by its main button."""
        return dialog.exec() == QDialog.DialogCode.Accepted
