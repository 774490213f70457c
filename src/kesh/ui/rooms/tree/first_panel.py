"""Beside the first card: a climate and four mixes, both there from the first minute, both to be changed."""

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.ui.paint.grains import draw_grains
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.climate_choice import ClimateChoice
from kesh.ui.widgets.climate_grid import Hemisphere
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, row, title


class MixSwatch(QWidget):
    """Mixes as their grains, in the shares of the recipe."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFixedHeight(fonts.scaled(86))
        self.setAccessibleName("Mixes")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        mixes = list(self._session.collection.mixes.values())[:4]
        wide = self.width() / 4
        for i, mix in enumerate(mixes):
            box = QRectF(i * wide + 1, 1, wide - 8, self.height() - fonts.scaled(36))
            painter.fillRect(box, t.color("soil", 0.35))
            painter.save()
            painter.setClipRect(box)
            draw_grains(painter, mix, box)
            painter.restore()
            painter.setPen(QPen(t.color("edge"), 1))
            painter.drawRect(box)
            painter.setPen(t.color("ink"))
            painter.setFont(fonts.text(13, bold=True))
            painter.drawText(QPointF(box.left(), box.bottom() + fonts.scaled(15)), mix.name[:11])
            painter.setFont(fonts.text(12))
            painter.setPen(t.color("quiet"))
            shares = " : ".join("?" if p.parts is None else f"{p.parts:g}" for p in mix.parts)
            painter.drawText(QPointF(box.left(), box.bottom() + fonts.scaled(30)), shares)


class FirstPanel(Panel):
    """Both are set already; nothing waits for them."""

    climate = pyqtSignal(str)
    more = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.column.addWidget(title("A climate and four mixes"))
        self.column.addWidget(quiet("Both are set already; nothing waits for them."))
        self.column.addWidget(SectionHead(session, "Climate", "or type it"))
        self.choice = ClimateChoice(session)
        self.choice.chosen.connect(self.climate)
        self.column.addWidget(self.choice)
        self.side = Hemisphere(session)
        self.column.addWidget(row("The bench lies", self.side))
        self.column.addWidget(button("Type your own climate", lambda: self.more.emit("climate"), link=True))
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Starter mixes", "to begin with"))
        self.swatches = MixSwatch(session)
        self.column.addWidget(self.swatches)
        self.column.addWidget(button("Change a mix, or add one", lambda: self.more.emit("mixes"), link=True))
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Folded away"))
        self.column.addWidget(quiet("Roots, water, wind, season and log open when the tree stands; what is missing then shows as a dotted ring."))  # fmt: skip

    def refresh(self) -> None:
        """Show the climate and the mixes as they are."""
        site = self.session.collection.site
        self.choice.show_site(site)
        self.side.show_site(site)
        self.swatches.update()
