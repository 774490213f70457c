"""What is open: the collection, the tree in hand, units and theme. Widgets listen; edits go through here."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from kesh.advice.assess import Assessment, assess, glance
from kesh.advice.case import Case, case_for, season_meant
from kesh.advice.checks import Checks
from kesh.advice.design.aims import design_case
from kesh.advice.planting.meant import planting_in
from kesh.advice.rank import Ranked, Ranking, rank
from kesh.advice.season.book import Book
from kesh.advice.water.year import PotYears
from kesh.base.errors import KeshError
from kesh.base.units import Units
from kesh.desk.bench import Stand
from kesh.desk.lineup import LineupState, first_lineup, lineup_state, with_pot
from kesh.desk.log import species_put_right
from kesh.desk.planting import in_step, planned_for
from kesh.desk.years import KnownYears, rests_on
from kesh.model import Brief, Collection, Lineup, Planting, Pot, Tree
from kesh.reference.tables import Tables, tables
from kesh.store.collection_file import Change, CollectionFile
from kesh.store.records import with_changes
from kesh.ui.theme.tokens import LIGHT, Theme

LONG_SHELF = 300
T = TypeVar("T")


class Session(QObject):
    """One open collection."""

    changed = pyqtSignal()
    drafted = pyqtSignal()
    tree_changed = pyqtSignal()
    look_changed = pyqtSignal()
    units_changed = pyqtSignal()
    file_changed = pyqtSignal()
    said = pyqtSignal(str, str)
    # the collection stands under another name now
    moved = pyqtSignal()

    def __init__(
        self, file: CollectionFile, *, today: date | None = None, clock: Callable[[], date] = date.today
    ) -> None:
        super().__init__()
        self.file = file
        self.units = Units()
        self.money, self.week_begins = "£", "monday"
        self.theme: Theme = LIGHT
        self._clock, self._day_seen = clock, clock()
        self.today = today or self._day_seen
        self.hand = ""
        self.left_out: tuple[str, ...] = ()
        self._draft: Collection | None = None
        self._kept: dict[tuple[Any, ...], Any] = {}
        self._kept_of: Collection | None = None
        self._order: tuple[str, Ranking] | None = None
        self._years = KnownYears()
        self._shelf: tuple[Any, tuple[Pot, ...]] = (None, ())
        trees = file.collection.trees
        self.tree_id = next(iter(trees), "")

    @property
    def collection(self) -> Collection:
        """What is shown: the file's records, or the draft while something is dragged."""
        return self._draft if self._draft is not None else self.file.collection

    @property
    def dragging(self) -> bool:
        """Whether what is shown is not written yet."""
        return self._draft is not None

    @property
    def tree(self) -> Tree | None:
        """The tree in hand."""
        return self.collection.trees.get(self.tree_id)

    @property
    def planting(self) -> Planting | None:
        """The planting in force for the tree in hand."""
        return self.collection.planting_of(self.tree_id)

    @property
    def pot(self) -> Pot | None:
        """The pot in which the tree in hand stands."""
        planting = self.planting
        return self.collection.pots.get(planting.pot) if planting else None

    @property
    def brief(self) -> Brief:
        """The brief of the tree in hand; a default one until it is written."""
        return self.collection.briefs.get(self.tree_id) or Brief(id=self.tree_id or "none")

    def take_file(self, file: CollectionFile) -> None:
        """Work in another collection; the one before is closed, and nothing that was reckoned of it is kept."""
        self.file.close()
        self.file = file
        self._draft = None
        self._kept.clear()
        self._order, self._shelf, self.left_out = None, (None, ()), ()
        self.tree_id = next(iter(file.collection.trees), "")
        self.file_changed.emit()
        self.tree_changed.emit()

    def choose_tree(self, tree_id: str) -> None:
        """Take another tree in hand."""
        if tree_id != self.tree_id and tree_id in self.collection.trees:
            self.drop_draft()
            self.tree_id = tree_id
            self.tree_changed.emit()

    def stand(self) -> Stand | None:
        """The tree in hand in its present pot, as shown; asked many times a frame while something is dragged."""
        tree = self.tree
        if tree is None:
            return None
        return self._once(("stand", self.tree_id), lambda: Stand(tree, self.pot, self.planting, self.brief.stand_mm))

    def step_tree(self, by: int) -> None:
        """The tree before or after in the list."""
        keys = list(self.collection.trees)
        if keys:
            at = keys.index(self.tree_id) if self.tree_id in keys else 0
            self.choose_tree(keys[(at + by) % len(keys)])

    def case(self, pot_id: str | None = None) -> Case:
        """The case of the tree in hand, with the planting in a pot where there is one."""
        return self._once(
            ("case", self.tree_id, pot_id),
            lambda: self._in_hand(case_for(self.collection, self.tree_id, pot_id=pot_id, today=self.today)),
        )

    def _in_hand(self, case: Case) -> Case:
        """The case; while something is dragged with the tree as it was before."""
        if not self.dragging:
            return case
        return replace(case, hurry=True, at_rest=self.file.collection.trees.get(case.tree.id))

    def assessment(self, pot_id: str | None = None) -> Assessment | None:
        """Findings of the tree in hand in a pot, the present one by default."""
        pot = self.collection.pots.get(pot_id) if pot_id else self.pot
        if pot is None or self.tree is None:
            return None
        return self._once(("assess", self.tree_id, pot.id), lambda: assess(self.case(pot.id), pot, self.units))

    def planned(self) -> Assessment | None:
        """Findings of the present pot as its next root work is judged: in its next window, or in the season the brief plans for."""
        pot, tree = self.pot, self.tree
        if pot is None or tree is None:
            return None

        def case() -> Case:
            found = case_for(
                self.collection, self.tree_id, pot_id=pot.id, on=self.today, season=season_meant(self.brief)
            )
            return self._in_hand(found)

        if self.dragging:
            return self._once(("planned", self.tree_id, pot.id), lambda: glance(case(), pot))
        return self._once(("planned", self.tree_id, pot.id), lambda: assess(case(), pot, self.units))

    def planned_in(self, pot_id: str) -> Assessment | None:
        """Findings of a pot as the tree stands in it, or is to be planted in it, in its next window or in the brief's season."""
        pot, tree = self.collection.pots.get(pot_id), self.tree
        if pot is None or tree is None:
            return None

        def made() -> Assessment:
            planting = self._once(("planting in", tree.id, pot), lambda: planting_in(self.collection, tree.id, pot))
            case = case_for(
                self.collection,
                tree.id,
                pot_id=pot.id,
                on=self.today,
                season=season_meant(self.brief),
                planting=planting,
            )
            case = self._in_hand(case)
            return glance(case, pot) if self.dragging else assess(case, pot, self.units)

        return self._once(("planned in", tree.id, pot.id), made)

    def design_assessment(self, pot: Pot) -> Assessment | None:
        """Findings of the tree a design is for, as it would be planted anew; None without that tree."""
        tree = pot.made_for or self.tree_id
        if tree not in self.collection.trees:
            return None
        return self._once(
            ("design", tree, pot), lambda: assess(design_case(self.collection, tree, today=self.today), pot, self.units)
        )

    @property
    def tables(self) -> Tables:
        """The reference tables with this collection's own rows."""
        return tables(self.collection.species_rows, self.collection.substrate_rows)

    @property
    def shelf(self) -> tuple[Pot, ...]:
        """All pots, the same tuple as long as they are the same pots, so that their columns are built once."""
        pots = self.collection.pots
        if self._shelf[0] is not pots:
            self._shelf = (pots, tuple(pots.values()))
        return self._shelf[1]

    def lineup(self) -> Lineup:
        """The pots held under the tree in hand; the best few until some were picked."""
        kept, tree = self.collection.lineups.get(self.tree_id), self.tree
        if kept is not None or tree is None:
            return kept or Lineup(id=self.tree_id or "none")
        return self._once(
            ("first", self.tree_id), lambda: first_lineup(tree, self.case(), rank(self.case(), self.shelf, self.units))
        )

    def lineup_case(self) -> Case:
        """The case of the tree in hand with the trunk where the line-up tries it."""
        return self._once(
            ("tried", self.tree_id), lambda: replace(self.case(), trials={t.pot: t for t in self.lineup().trials})
        )

    def ranking(self) -> Ranking | None:
        """The whole shelf under the tree in hand; while a long one is dragged over, the order from before."""
        if self.tree is None:
            return None
        if (
            self.dragging
            and self._order is not None
            and self._order[0] == self.tree_id
            and len(self.shelf) > LONG_SHELF
        ):
            return self._order[1]
        found = self._once(("rank", self.tree_id), lambda: self._ranked(self.shelf))
        self._order = (self.tree_id, found)
        return found

    def keep_years(self, found: Mapping[str, PotYears | str]) -> None:
        """What the years say of pots under the tree in hand, as it stands now."""
        self._years.keep(rests_on(self.collection, self.tree_id), found)
        self._kept.clear()

    def year_rows(self, case: Case, pots: tuple[Pot, ...]) -> Checks:
        """What is known of the years of pots, as rows of the rule table."""
        return self._years.rows(case, pots, rests_on(self.collection, self.tree_id), old_too=self.dragging)

    def hold_under(self, pot_id: str) -> None:
        """Put a pot into the line-up of the tree in hand."""
        tree, pot = self.tree, self.collection.pots.get(pot_id)
        if tree is None or pot is None:
            return
        lineup = with_pot(self.lineup(), self.case(), pot)
        if lineup != self.lineup() or tree.id not in self.collection.lineups:
            self.edit(f"{pot.name} held under {tree.name}", [("lineup", tree.id, lineup)])

    def entry(self, pot: Pot) -> Ranked:
        """What the ranking says of one pot as it stands now."""
        return self._ranked((pot,)).entry(0)

    def _ranked(self, pots: tuple[Pot, ...]) -> Ranking:
        """Pots under the tree in hand; the one it stands in as it stands there, unless another place is tried in it."""
        own = self.pot
        tried = own is None or any(t.pot == own.id for t in self.lineup().trials)
        stands = None if own is None or tried else (self.case(own.id), own)
        case = self.lineup_case()
        own_years = () if stands is None else self.year_rows(*(stands[0], (stands[1],)))
        return rank(case, pots, self.units, standing=stands, years=self.year_rows(case, pots), own_years=own_years)

    def meant(self, pot: Pot) -> Assessment:
        """Findings of a pot of the line-up as the planting in it is planned, else as the line-up tries it."""
        planned = self.planned_in(pot.id) if planned_for(self.collection, self.tree_id, pot.id) is not None else None
        return planned if planned is not None else self.tried(pot)

    def tried(self, pot: Pot) -> Assessment:
        """Findings of the tree in hand in a pot of the line-up."""
        own = self.pot is not None and pot.id == self.pot.id and not any(t.pot == pot.id for t in self.lineup().trials)
        case = self.case(pot.id) if own else self.lineup_case()
        key = ("in years" if own else "tried", self.tree_id, pot.id)
        return self._once(key, lambda: assess(case, pot, self.units, self.year_rows(case, (pot,))))

    def lineup_state(self) -> LineupState | None:
        """Columns and what is held back for the tree in hand."""
        tree, ranking = self.tree, self.ranking()
        if tree is None or ranking is None:
            return None
        return self._once(
            ("lineup", self.tree_id),
            lambda: lineup_state(
                self.collection, tree, self.lineup_case(), ranking, self.lineup(), self.tried, self.entry
            ),
        )

    def book(self) -> Book:
        """The season's book of the collection as it stands."""
        return self._once(("book", self.today), lambda: Book(self.collection, self.today, self.units))

    def _once(self, key: tuple[Any, ...], make: Callable[[], T]) -> T:
        if self._kept_of is not self.collection:
            # held as long as what was reckoned of it, so that no other can pass for it
            self._kept.clear()
            self._kept_of = self.collection
        mark = (*key, self.units)
        if mark not in self._kept:
            if len(self._kept) > 200:
                self._kept.clear()
            self._kept[mark] = make()
        found: T = self._kept[mark]
        return found

    def draft(self, changes: Sequence[Change]) -> None:
        """Show changes without writing them, while a handle is dragged."""
        self._draft = with_changes(self.file.collection, in_step(self.file.collection, changes))
        self._kept.clear()
        self.drafted.emit()

    def drop_draft(self) -> None:
        """Forget what was only shown."""
        if self._draft is not None:
            self._draft = None
            self._kept.clear()
            self.drafted.emit()

    def edit(self, label: str, changes: Sequence[Change]) -> bool:
        """Write a step at once; False with a sentence on the status line when it could not be written."""
        try:
            told = species_put_right(self.file.collection, list(changes), self.today)
            self.file.edit(label, in_step(self.file.collection, told))
        except KeshError as err:
            self._draft = None
            self._kept.clear()
            self._settle_tree()
            self.changed.emit()
            self.said.emit("no", str(err))
            self._tell_file()
            return False
        self._draft = None
        self._kept.clear()
        self._settle_tree()
        self.changed.emit()
        self._tell_file()
        return True

    def _tell_file(self) -> None:
        """What was found out about the file meanwhile: another name, another file in its place."""
        told, self.file.told[:] = list(self.file.told), []
        for text in told:
            self.said.emit("watch", text)
        if told:
            self.moved.emit()

    def follow_day(self) -> bool:
        """Past midnight today is another day, and the copy of the day is made; whether it is one."""
        now = self._clock()
        if now == self._day_seen:
            return False
        self._day_seen = self.today = now
        self._kept.clear()
        wrong = self.file.back_up()
        self.changed.emit()
        for text in wrong:
            self.said.emit("watch", text)
        return True

    def undo(self) -> None:
        """Take the last step back."""
        self._swing(self.file.undo, "Undone", "Nothing to undo")

    def redo(self) -> None:
        """Do the last undone step again."""
        self._swing(self.file.redo, "Done again", "Nothing to do again")

    def _swing(self, move: Any, word: str, nothing: str) -> None:
        self.drop_draft()
        try:
            label = move()
        except KeshError as err:
            # what another window wrote was read meanwhile
            self._kept.clear()
            self._settle_tree()
            self.changed.emit()
            self.said.emit("no", str(err))
            self._tell_file()
            return
        self._kept.clear()
        self._settle_tree()
        self.changed.emit()
        self.said.emit("fits", f"{word}: {label}" if label else nothing)
        self._tell_file()

    def _settle_tree(self) -> None:
        """There is always a tree in hand while there is one at all."""
        if self.tree_id not in self.collection.trees:
            self.tree_id = next(iter(self.collection.trees), "")
            self.tree_changed.emit()

    def set_units(self, units: Units) -> None:
        """Read and type in other units."""
        self.units = units
        self._kept.clear()
        self.units_changed.emit()

    def set_money(self, money: str) -> None:
        """Write sums in another currency; nothing is converted."""
        self.money = money
        self.units_changed.emit()

    def set_theme(self, theme: Theme) -> None:
        """Light or dark."""
        self.theme = theme
        self.look_changed.emit()

    def change_tree(self, label: str, **fields: Any) -> None:
        """Edit the tree in hand."""
        if self.tree is not None:
            self._try(label, lambda: [("tree", self.tree_id, self.tree.changed(**fields))])

    def change_measure(self, label: str, **fields: Any) -> None:
        """Edit the latest measure of the tree in hand."""
        tree = self.tree
        if tree is not None:
            self._try(label, lambda: [("tree", tree.id, with_measure(tree, **fields))])

    def change_brief(self, label: str, **fields: Any) -> None:
        """Edit the brief of the tree in hand."""
        self._try(label, lambda: [("brief", self.tree_id, self.brief.changed(**fields))])

    def _try(self, label: str, make: Any) -> None:
        try:
            changes = make()
        except KeshError as err:
            self.said.emit("no", str(err))
            self.changed.emit()
            return
        self.edit(label, changes)

    @property
    def path(self) -> Path:
        """Where the collection stands."""
        return self.file.path


def with_measure(tree: Tree, **fields: Any) -> Tree:
    """The tree with its latest measure changed. Raises FieldError."""
    return tree.changed(measures=(*tree.measures[:-1], tree.measure.with_figures(**fields)))
