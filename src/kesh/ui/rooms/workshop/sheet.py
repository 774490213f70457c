"""The Workshop's sheet: list at the left, name and makers above, four views."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from kesh.advice.routes.job import Job
from kesh.advice.routes.routes import routes
from kesh.ui.paint.built import built_of
from kesh.ui.paint.gallery import Gallery
from kesh.ui.rooms.workshop.design_list import DesignList
from kesh.ui.rooms.workshop.empty import EmptySheet
from kesh.ui.rooms.workshop.made_view import MadeView
from kesh.ui.rooms.workshop.solver_view import SolverView
from kesh.ui.rooms.workshop.turn_view import TurnView
from kesh.ui.rooms.workshop.views import PlanView, ProfileView
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import quiet

LIST_PX, NAME_PX = 220, 230
EMPTY = "A design belongs to a tree: it is drawn in section, turned in the hand, and written out for whoever makes it."


class WorkshopSheet(QWidget):
    """List at the left; name, makers and the four views."""

    draw = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.list = DesignList(session)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        line.addWidget(self.list)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        line.addLayout(column, 1)
        head = QWidget()
        head.setObjectName("panel")
        head.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        top = QVBoxLayout(head)
        top.setContentsMargins(16, 4, 14, 8)
        top.setSpacing(2)
        names = QHBoxLayout()
        self.name, self.told = QLineEdit(), quiet("")
        self.name.setAccessibleName("Name of the design")
        self.name.setObjectName("designName")
        self.name.setFrame(False)
        self.told.setWordWrap(False)
        names.addWidget(self.name)
        names.addWidget(self.told, 1)
        makers = QHBoxLayout()
        makers.setSpacing(0)
        label = QLabel("Made by ")
        makers.addWidget(label)
        group = QButtonGroup(self)
        self.routes: dict[str, QPushButton] = {}
        for key, route in routes().items():
            made = QPushButton(route.words)
            made.setCheckable(True)
            group.addButton(made)
            makers.addWidget(made)
            self.routes[key] = made
        self.routes["potter"].setChecked(True)
        makers.addStretch(1)
        top.addLayout(names)
        top.addLayout(makers)
        column.addWidget(head)
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(1)
        self.profile, self.plan = ProfileView(session, gallery), PlanView(session, gallery)
        self.turn, self.solver = TurnView(session, gallery), SolverView(session)
        self.made = (
            MadeView(session, gallery, "What the maker makes, to scale"),
            MadeView(session, gallery, "The same from above, to scale"),
        )
        # where the maker makes something else than the design drawn, its own drawings stand in place of section and plan
        self.corners = QStackedWidget(), QStackedWidget()
        for corner, own, other in zip(self.corners, (self.profile, self.plan), self.made, strict=True):
            corner.addWidget(own)
            corner.addWidget(other)
        cells: tuple[QWidget, ...] = (self.corners[0], self.turn, self.corners[1], self.solver)
        for k, cell in enumerate(cells):
            grid.addWidget(cell, k // 2, k % 2)
        for k in (0, 1):
            grid.setRowStretch(k, 1)
            grid.setColumnStretch(k, 1)
        holder = QWidget()
        holder.setObjectName("rules")
        holder.setLayout(grid)
        self.pages, self.drawn = QStackedWidget(), holder
        self.empty = EmptySheet(session, "A pot drawn to measure", EMPTY, (
            ("Draw a pot", self.draw.emit), ("Let the solver try 100,000", self.solver.asked.emit),
        ))  # fmt: skip
        for page in (holder, self.empty):
            self.pages.addWidget(page)
        column.addWidget(self.pages, 1)
        self.refit()

    def show_made(self, job: Job | None, why: str = "") -> None:
        """Drawings and parts of what the maker in hand makes; the design itself for the potter and the drill."""
        drawings = job.views if job is not None and job.views else (None, None)
        for corner, made, drawing in zip(self.corners, self.made, drawings, strict=True):
            made.show_drawing(drawing, why)
            corner.setCurrentIndex(1 if drawing is not None else 0)
        if why:
            # the sentence stands where the thing would
            self.corners[0].setCurrentIndex(1)
        built = built_of(job)
        name = (routes()[job.route].built or "View") if job is not None else "View"
        self.turn.show_built(
            built,
            "Printed whole"
            if built is not None and job is not None and job.route == "print" and not built.loose
            else name,
        )

    def show_empty(self, empty: bool) -> None:
        """Four views, or one sentence and two ways on where there is no design yet."""
        self.pages.setCurrentWidget(self.empty if empty else self.drawn)

    def refit(self) -> None:
        """Follow the text size."""
        self.list.setFixedWidth(fonts.scaled(LIST_PX))
        self.name.setFixedWidth(fonts.scaled(NAME_PX))

    @property
    def views(self) -> tuple[ProfileView | MadeView | TurnView | PlanView, ...]:
        """The views of the design itself."""
        return self.profile, self.turn, self.plan, *self.made
