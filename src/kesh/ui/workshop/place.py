"""The Workshop as a place: list, head with the makers, four views, and the panel, joined."""

from time import monotonic

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from kesh.advice.design.search import Design, Solution
from kesh.advice.making.beside import drip_tray, stand
from kesh.advice.making.routes import ROUTES
from kesh.errors import KeshError
from kesh.ui.photo_deeds import fresh_id
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.state.workshop import new_design, opened
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import quiet
from kesh.ui.workshop.design_list import DesignList
from kesh.ui.workshop.panel import WorkshopPanel
from kesh.ui.workshop.solver_view import SolverView
from kesh.ui.workshop.turn_view import TurnView
from kesh.ui.workshop.views import PlanView, ProfileView

LIST_PX, NAME_PX = 220, 230
TURN_EVERY_S = 0.12


class WorkshopSheet(QWidget):
    """List at the left; name, makers and the four views."""

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
        for key, text in ROUTES.items():
            made = QPushButton(text)
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
        for k, view in enumerate((self.profile, self.turn, self.plan, self.solver)):
            grid.addWidget(view, k // 2, k % 2)
        for k in (0, 1):
            grid.setRowStretch(k, 1)
            grid.setColumnStretch(k, 1)
        holder = QWidget()
        holder.setObjectName("rules")
        holder.setLayout(grid)
        column.addWidget(holder, 1)
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.list.setFixedWidth(fonts.scaled(LIST_PX))
        self.name.setFixedWidth(fonts.scaled(NAME_PX))

    @property
    def views(self) -> tuple[ProfileView, TurnView, PlanView]:
        """The views of the design itself."""
        return self.profile, self.turn, self.plan


class WorkshopPlace(QObject):
    """Keeps list, views and panel on one design and one maker."""

    asked = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery, runner: Runner, kept: str = "") -> None:
        super().__init__()
        self._session = session
        self.sheet, self.panel = WorkshopSheet(session, gallery), WorkshopPanel(session, runner, kept)
        self.pot_id, self._turned = "", 0.0
        self._answers: dict[str, Solution] = {}
        s = self.sheet
        s.list.chosen.connect(self.show_pot)
        s.list.add.connect(self.draw_new)
        s.name.editingFinished.connect(self._rename)
        for key, made in s.routes.items():
            made.clicked.connect(lambda _=False, k=key: self.show_route(k))
        s.solver.asked.connect(self.asked)
        s.solver.opened.connect(self.open_design)
        self.panel.reckoned.connect(self._propose)
        self.panel.beside.connect(self.draw_beside)
        self.search = s.list.search

    @property
    def tree_id(self) -> str:
        """The tree the design in hand is for."""
        pot = self._session.collection.pots.get(self.pot_id)
        return (pot.made_for if pot and pot.made_for else None) or self._session.tree_id

    def refresh(self) -> None:
        """Follow the session."""
        self.sheet.list.refresh()
        if self.pot_id not in self._session.collection.pots:
            self.pot_id = self.sheet.list.pot_id
        self._show()

    def drafted(self) -> None:
        """While something is dragged only views and figures follow."""
        self.sheet.profile.update()
        self.sheet.plan.update()
        # the shaded body costs as much as all the rest: it follows a few times a second
        if monotonic() - self._turned > TURN_EVERY_S:
            self._turned = monotonic()
            self.sheet.turn.update()
        self.panel.refresh()

    def show_pot(self, pot_id: str) -> None:
        """Take a design in hand."""
        self.pot_id = pot_id
        self._show()

    def show_route(self, route: str) -> None:
        """Take another maker in hand; the drill looks at pots that are there."""
        self.sheet.routes[route].setChecked(True)
        drill = route == "drill"
        self.panel.show_route(route)
        if drill != self.sheet.list.drill:
            self.sheet.list.drill = drill
            self.sheet.list.refresh()
            self.show_pot(self.sheet.list.pot_id)

    def _show(self) -> None:
        for view in self.sheet.views:
            view.show_pot(self.pot_id)
            view.refit()
        self.panel.show_pot(self.pot_id)
        self.sheet.solver.show_solution(self._answers.get(self.tree_id))
        self._tell()

    def _tell(self) -> None:
        s = self._session
        pot = s.collection.pots.get(self.pot_id)
        if not self.sheet.name.hasFocus():
            self.sheet.name.setText(pot.name if pot else "No design yet")
        self.sheet.name.setEnabled(pot is not None)
        tree = s.collection.trees.get(self.tree_id)
        self.sheet.told.setText(f"for {tree.name}" if pot and tree else "Draw a pot, or ask the solver with F5")

    def _propose(self) -> None:
        """Holes of the drill plan that the pot does not have yet, dashed in the plan."""
        job, pot = self.panel.job, self._session.collection.pots.get(self.pot_id)
        drill = job is not None and pot is not None and job.route == "drill"
        self.sheet.plan.proposed = (
            tuple(h for h in job.pot.holes if h not in pot.holes) if drill and job and pot else ()
        )
        self.sheet.plan.update()

    def _rename(self) -> None:
        pot, name = self._session.collection.pots.get(self.pot_id), self.sheet.name.text().strip()
        if pot is not None and name and name != pot.name:
            self._session.edit(f"Named {name}", [("pot", pot.id, pot.changed(name=name))])

    def draw_new(self) -> None:
        """A first design for the tree in hand."""
        s = self._session
        key = fresh_id(s.collection.pots, "design")
        pot = new_design(key, s.tree_id or None, s.case() if s.tree is not None else None)
        self._take(pot.id, "New design", pot)

    def draw_beside(self, what: str) -> None:
        """A drip tray or a stand for the design in hand, as a design of its own."""
        s = self._session
        pot = s.collection.pots.get(self.pot_id)
        if pot is None:
            return
        key = fresh_id(s.collection.pots, what)
        try:
            made = drip_tray(pot, key) if what == "tray" else stand(pot, key)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        self._take(key, f"{made.name} drawn", made)

    def open_design(self, design: Design) -> None:
        """A point of the chart as a design of the collection."""
        s = self._session
        made = opened(design, fresh_id(s.collection.pots, "design"), self.tree_id)
        same = next((p for p in s.collection.pots.values() if p.state == "design" and p == made.changed(id=p.id)), None)
        if same is not None:
            self.sheet.list.choose(same.id)
            return
        self._take(made.id, f"Design {made.name} opened", made)

    def _take(self, key: str, label: str, pot: object) -> None:
        self.sheet.list.search.clear()
        if self.sheet.list.drill:
            self.show_route("potter")
        if self._session.edit(label, [("pot", key, pot)]):
            self.sheet.list.refresh()
            self.sheet.list.choose(key)

    def show_solution(self, tree: str, solution: Solution) -> None:
        """The solver's answer for a tree."""
        self._answers[tree] = solution
        if tree == self.tree_id:
            self.sheet.solver.show_solution(solution)
