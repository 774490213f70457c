"""Kesh, its licence and those of what it ships."""

from importlib.resources import files

from PyQt6.QtWidgets import QPlainTextEdit, QVBoxLayout, QWidget

from kesh import __version__
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme
from kesh.ui.widgets.common import quiet, title
from kesh.ui.widgets.palette import Over


class AboutCard(Over):
    """Version and licences."""

    def __init__(self, parent: QWidget, theme: Theme) -> None:
        super().__init__(parent, theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 18)
        column.addWidget(title(f"Kesh {__version__}"))
        column.addWidget(
            quiet(
                "Pots for bonsai: measured, computed, drawn to scale. Free software, GPL-3.0-or-later, without warranty."
            )
        )
        text = QPlainTextEdit(files("kesh.ui.theme").joinpath("licences.txt").read_text(encoding="utf-8"))
        text.setReadOnly(True)
        text.setFixedSize(fonts.scaled(560), fonts.scaled(300))
        text.setAccessibleName("Licences of what ships with Kesh")
        column.addWidget(text)
