"""The Shelf: all pots to one scale, and the card of the one in hand."""

from collections.abc import Sequence

from PyQt6.QtCore import QObject, pyqtSignal

from kesh.ui.places.shelf_panel import ShelfPanel
from kesh.ui.places.shelf_sheet import ShelfSheet
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery

SHOWN_PROBLEMS = 12


class ShelfPlace(QObject):
    """Sheet and panel of the place, joined."""

    tree_wanted = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, runner: Runner) -> None:
        super().__init__()
        self._session = session
        self.sheet, self.panel = ShelfSheet(session), ShelfPanel(session, runner)
        self.search = self.sheet.search
        self.sheet.chosen.connect(self.panel.show_pot)
        self.panel.tree_wanted.connect(self.tree_wanted)
        self.panel.hold.connect(self._hold)

    @property
    def px_mm(self) -> float:
        """The scale of all pictures."""
        return self.sheet.cell.px_mm

    def refresh(self) -> None:
        """Follow the session."""
        self.sheet.refresh()
        if not self.panel.pot_id or self.panel.pot is None:
            first = self.sheet.model.rows[0] if self.sheet.model.rows else ""
            self.panel.pot_id = first
            self.sheet.select(first)
        self.panel.refresh()

    def choose(self, key: str) -> None:
        """Take a pot in hand."""
        self.sheet.search.clear()
        self.sheet.filters[""].setChecked(True)
        self.sheet.refresh()
        self.sheet.select(key)

    def show_problems(self, problems: Sequence[str]) -> None:
        """Rows of a list that were left out; they stay in sight until the next list."""
        more = len(problems) - SHOWN_PROBLEMS
        lines = [*problems[:SHOWN_PROBLEMS], *([f"and {more} more"] if more > 0 else [])]
        self.panel.problems.setText("Left out of the last list:\n" + "\n".join(lines) if problems else "")

    def _hold(self, pot: str) -> None:
        from kesh.ui.steps.bench import hold_under

        hold_under(self._session, pot)
        self.tree_wanted.emit(self._session.tree_id)
