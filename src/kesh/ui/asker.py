"""Questions that stop the work: file names, a choice. Replaced in tests, so that none blocks."""

from pathlib import Path

from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QWidget


class Asker:
    """Asks with the desktop's own dialogs."""

    def open_file(self, parent: QWidget, title: str, folder: Path, kinds: str) -> Path | None:
        """A file to read, or None."""
        name, _ = QFileDialog.getOpenFileName(parent, title, str(folder), kinds)
        return Path(name) if name else None

    def save_file(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> Path | None:
        """A file to write, or None."""
        return self.save_as(parent, title, suggested, kinds)[0]

    def save_as(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> tuple[Path | None, str]:
        """A file to write, or None, and which of the kinds was asked for."""
        name, kind = QFileDialog.getSaveFileName(parent, title, str(suggested), kinds)
        return (Path(name) if name else None), kind

    def choose(self, parent: QWidget, title: str, question: str, options: list[str]) -> str | None:
        """One of a few words, or None."""
        word, sure = QInputDialog.getItem(parent, title, question, options, 0, False)
        return word if sure else None

    def agree(self, dialog: QDialog) -> bool:
        """Whether a dialog was closed by its main button."""
        return dialog.exec() == QDialog.DialogCode.Accepted
