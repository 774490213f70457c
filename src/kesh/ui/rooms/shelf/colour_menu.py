"""Colours of clay and glaze as named swatches behind the colour field, and the way to a photograph."""

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QAction, QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QLineEdit, QMenu

from kesh.desk.shelf import SWATCHES, colour_typed


def swatch(colour: str, edge: QColor) -> QIcon:
    """A small tile of a colour."""
    picture = QPixmap(32, 32)
    picture.fill(Qt.GlobalColor.transparent)
    p = QPainter(picture)
    p.fillRect(QRectF(4, 6, 24, 20), QColor(colour))
    p.setPen(QPen(edge, 1.6))
    p.drawRect(QRectF(4, 6, 24, 20))
    p.end()
    return QIcon(picture)


class ColourMenu:
    """Gives a colour field its swatches; `take` gets the colour that was chosen, `photo` asks for a photograph."""

    def __init__(self, field: QLineEdit, edge: QColor, take: Callable[[str], None], photo: Callable[[], None]) -> None:
        self._edge = edge
        self.menu = QMenu(field)
        for words in SWATCHES:
            colour = colour_typed(words)
            made = self.menu.addAction(swatch(colour, edge), words)
            assert made is not None
            made.triggered.connect(lambda _=False, c=colour: take(c))
        self.menu.addSeparator()
        way = self.menu.addAction("From a photograph of it …")
        assert way is not None
        way.triggered.connect(lambda: photo())
        self.action = QAction(swatch("#7A5A48", edge), "", field)
        self.action.setToolTip("Named colours, or from a photograph (Alt+Down)")
        self.action.setShortcut("Alt+Down")
        self.action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        self.action.triggered.connect(lambda: self.menu.popup(field.mapToGlobal(field.rect().bottomLeft())))
        field.addAction(self.action, QLineEdit.ActionPosition.TrailingPosition)

    def show_colour(self, colour: str) -> None:
        """The sign in the colour of the pot in hand."""
        self.action.setIcon(swatch(colour, self._edge))
