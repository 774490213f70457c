"""Branches that are bent while the tree is potted: a row each, and a link for one more."""

from collections.abc import Callable

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.desk.branch_guys import ROWS, with_branch, with_branch_field, without_branch
from kesh.model import BranchGuy, Planting
from kesh.ui.rooms.planting.special_form import SpecialForm
from kesh.ui.session import Session
from kesh.ui.widgets.common import SectionHead, button

NONE_YET, ONE_MORE = "A branch is bent at potting", "One more branch"
Change = Callable[[str, Callable[[Planting], Planting]], None]


class BranchBox(QWidget):
    """A form for each branch, made once and kept as branches come and go."""

    def __init__(self, session: Session, change: Change) -> None:
        super().__init__()
        self._session, self._change = session, change
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self.head = SectionHead(session, "Branches bent at potting")
        self.more = button(NONE_YET, lambda: self._change("A branch is bent", with_branch), link=True)
        self.forms: list[_Row] = []
        self._column.addWidget(self.head)
        self._column.addWidget(self.more)

    def show_planting(self, planting: Planting) -> None:
        """As many forms as branches."""
        guys = planting.branch_guys
        self.head.setVisible(bool(guys))
        self.more.setText(ONE_MORE if guys else NONE_YET)
        while len(self.forms) < len(guys):
            made = _Row(self._session, self._change)
            self._column.insertWidget(1 + len(self.forms), made)
            self.forms.append(made)
        for n, made in enumerate(self.forms):
            made.setVisible(n < len(guys))
            if n < len(guys):
                made.show_guy(guys[n])


class _Row(QWidget):
    def __init__(self, session: Session, change: Change) -> None:
        super().__init__()
        self._change, self._key = change, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(2)
        self.form = SpecialForm(session, self._enter)
        self.away = button("Leave this branch as it is", self._take_away, link=True)
        column.addWidget(self.form)
        column.addWidget(self.away)

    def show_guy(self, guy: BranchGuy) -> None:
        self._key = guy.id
        self.form.show_record("branch", ROWS, guy)

    def _enter(self, name: str, value: object) -> None:
        key = self._key
        self._change("Branch bent", lambda p: with_branch_field(p, key, name, value))

    def _take_away(self) -> None:
        key = self._key
        self._change("Branch not bent", lambda p: without_branch(p, key))
