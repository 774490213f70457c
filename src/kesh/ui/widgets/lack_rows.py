"""Fields for what a finding would want to know, right where it says that it does not: typed here, written to the record."""

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.advice.lacks import Lack
from kesh.base.errors import KeshError
from kesh.desk.bench import with_roots
from kesh.desk.shelf import holes_typed
from kesh.model import Pot
from kesh.reference.find import species_like
from kesh.reference.starters import climates, with_climate
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, quiet, row
from kesh.ui.widgets.fields import MeasureEdit


class LackRows(QWidget):
    """A row for each thing that is missing."""

    def __init__(self, session: Session, lacks: tuple[Lack, ...], pot: Pot | None) -> None:
        super().__init__()
        self._session, self._pot = session, pot
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.fields: dict[str, QWidget] = {}
        for one in lacks:
            field = self.fields[one.name] = self._made(one)
            column.addWidget(row(one.label, field))
        self.told = quiet("")
        self.told.hide()
        column.addWidget(self.told)

    def _made(self, one: Lack) -> QWidget:
        s = self._session
        if one.sort == "mm":
            field = MeasureEdit(s, one.label)
            field.entered.connect(lambda mm, lack=one: self._measure(lack, mm))
            return field
        if one.sort == "mix":
            mixes = Choice({"": "choose one"} | {m.id: m.name for m in s.collection.mixes.values()}, one.label)
            mixes.chosen.connect(lambda key: s.change_brief("Mix chosen", mix=key) if key else None)
            return mixes
        if one.sort == "climate":
            years = Choice({"": "choose one"} | {c.key: f"{c.region}: {c.words}".removeprefix(": ") for c in climates().values()}, one.label)  # fmt: skip
            years.chosen.connect(lambda key: s.edit("Climate chosen", [("site", "site", with_climate(s.collection.site, key))]) if key else None)  # fmt: skip
            return years
        line = QLineEdit()
        line.setAccessibleName(one.label)
        line.setPlaceholderText("any part of its name" if one.sort == "species" else "2 drain 20, 4 tie")
        line.returnPressed.connect(lambda sort=one.sort: self._line(sort, line))
        return line

    def _measure(self, one: Lack, mm: object) -> None:
        s, tree = self._session, self._session.tree
        if mm is None or tree is None:
            return
        if one.record == "tree":
            s.change_measure(f"{one.label} entered", **{one.name: mm})
            return
        try:
            s.edit(f"{one.label} entered", [("tree", tree.id, with_roots(tree, **{one.name: mm}))])
        except KeshError as err:
            s.said.emit("no", str(err))

    def _line(self, sort: str, line: QLineEdit) -> None:
        s, text = self._session, line.text().strip()
        if not text:
            return
        if sort == "holes":
            self._holes(text)
            return
        hits = species_like(text, s.tables.species)
        sure = next((hit for hit in hits if hit.sure), None)
        if sure is None:
            named = ", ".join(hit.name for hit in hits[:5])
            self.told.setText(
                f"Which one? {named}" if hits else "No species of that name is in the table; try a shorter part of it."
            )
            self.told.show()
            return
        s.change_tree("Species named", species=sure.key)

    def _holes(self, text: str) -> None:
        s, pot = self._session, self._pot
        if pot is None or pot.id not in s.collection.pots:
            return
        try:
            holes, known = holes_typed(text, pot)
            s.edit("Holes entered", [("pot", pot.id, pot.changed(holes=holes, holes_known=known))])
        except KeshError as err:
            s.said.emit("no", str(err))
