"""What every command does: a row a command, each a short method over the window's parts."""

import json
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication, QWidget

from kesh.errors import FieldError, KeshError
from kesh.model import Collection, Event, Measure, Planting, Pot, Tree
from kesh.progress import Progress
from kesh.store.collection_file import Change, CollectionFile
from kesh.store.records import all_records
from kesh.ui.actions import Act
from kesh.ui.asker import Asker
from kesh.ui.making_deeds import MakingDeeds
from kesh.ui.photo_deeds import PhotoDeeds, fresh_id
from kesh.ui.settings import MONEY
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import DARK, LIGHT
from kesh.ui.widgets.about import AboutCard
from kesh.ui.widgets.frame import Place, Step
from kesh.writing import write_text

if TYPE_CHECKING:
    from kesh.ui.window import MainWindow

COLLECTIONS = "Kesh collections (*.kesh);;Bundles (*.json)"
TABLES = "Pots as CSV (*.csv);;Bundles (*.json)"


class Deeds:
    """Carries out commands in one window."""

    def __init__(self, window: "MainWindow", asker: Asker) -> None:
        self._w, self._ask = window, asker
        self.photo = PhotoDeeds(window, asker)
        self.making = MakingDeeds(window, asker)
        self.table: dict[Act, Callable[[], object]] = {
            Act.BENCH: lambda: window.show_place(Place.BENCH),
            Act.SHELF: lambda: window.show_place(Place.SHELF),
            Act.WORKSHOP: lambda: window.show_place(Place.WORKSHOP),
            Act.REFERENCE: lambda: window.show_place(Place.REFERENCE),
            Act.SOLVE: self.making.solve,
            Act.DRAW_POT: self.making.draw,
            Act.MAKE_FILES: self.making.write,
            Act.IMPORT_MESH: self.making.bring_mesh,
            Act.STEP_TREE: lambda: window.show_step(Step.TREE),
            Act.STEP_BRIEF: lambda: window.show_step(Step.BRIEF),
            Act.STEP_LINEUP: lambda: window.show_step(Step.LINEUP),
            Act.TREE_BEFORE: lambda: window.session.step_tree(-1),
            Act.TREE_AFTER: lambda: window.session.step_tree(1),
            Act.NEXT_VIEW: window.sheet.next_view,
            Act.FINDING_BEFORE: lambda: window.panel.walk_findings(-1),
            Act.FINDING_AFTER: lambda: window.panel.walk_findings(1),
            Act.FIND: self.find,
            Act.UNDO: window.session.undo,
            Act.REDO: window.session.redo,
            Act.NEW_TREE: self.new_tree,
            Act.NEW_MEASURES: self.new_measures,
            Act.NEW_POT: self.new_pot,
            Act.ADD_PHOTO: self.photo.add,
            Act.CUT_OUT: lambda: self.photo.cut_when_due(asked=True),
            Act.DEVICE: self.device,
            Act.REPOTTED: self.repotted,
            Act.OPEN: self.open,
            Act.NEW_FILE: self.new_file,
            Act.IMPORT: self.bring_in,
            Act.EXPORT: self.export,
            Act.PRINT: self.print_sheet,
            Act.PICTURE: self.picture,
            Act.UNITS: lambda: self.turn("length", ("mm", "cm", "inch")),
            Act.VOLUMES: lambda: self.turn("volume", ("l", "quart")),
            Act.MASSES: lambda: self.turn("mass", ("kg", "lb")),
            Act.MONEY: self.money,
            Act.THEME: self.theme,
            Act.LARGER: lambda: self.text_size(10),
            Act.SMALLER: lambda: self.text_size(-10),
            Act.COMMANDS: window.open_commands,
            Act.KEYS: window.open_keys,
            Act.ABOUT: lambda: AboutCard(window, window.session.theme).open_over(window),
            Act.QUIT: window.close,
        }

    def do(self, act: Act) -> None:
        """Carry out a command; what the user can mend is said on the status line."""
        try:
            self.table[act]()
        except KeshError as err:
            self._say("no", str(err))

    def _say(self, status: str, text: str) -> None:
        self._w.session.said.emit(status, text)

    # trees and pots ----------------------------------------------------------------------------------------------

    def find(self) -> None:
        """Put the cursor into the search of the place in sight."""
        w = self._w
        field = w.trees.search if w.place == Place.BENCH else getattr(w, w.place.value).search
        field.setFocus()
        field.selectAll()

    def new_tree(self) -> None:
        """A tree with nothing measured yet; its name is ready to be typed."""
        w = self._w
        key = fresh_id(w.session.collection.trees, "tree")
        tree = Tree(
            id=key,
            name=f"Tree {key.rsplit('-', 1)[-1]}",
            measures=(Measure(taken=w.session.today),),
            seed=len(key) * 7 + 3,
        )
        w.trees.search.clear()
        if w.session.edit("Tree added", [("tree", key, tree)]):
            w.session.choose_tree(key)
            w.show_step(Step.TREE)
            w.panel.tree.fields["height_mm"].setFocus()

    def new_measures(self) -> None:
        """Start a new dated set of measures from the last one."""
        w = self._w
        tree = w.session.tree
        if tree is None:
            raise FieldError("tree", "there is no tree to measure; add one with Ctrl+N")
        if tree.measure.taken == w.session.today:
            self._say("watch", "Today's measures are open already; change them in the fields")
            return
        fresh = tree.measure.changed(taken=w.session.today, how="hand")
        w.session.change_tree("Measured anew", measures=(*tree.measures, fresh))
        w.show_step(Step.TREE)

    def new_pot(self) -> None:
        """A pot of a usual size; all its figures are ready to be changed."""
        w = self._w
        key = fresh_id(w.session.collection.pots, "pot")
        pot = Pot(
            id=key,
            name=f"Pot {key.rsplit('-', 1)[-1]}",
            length_mm=300,
            width_mm=220,
            height_mm=80,
            feet_mm=8,
            holes_known=False,
        )
        if w.session.edit("Pot added", [("pot", key, pot)]):
            w.show_place(Place.SHELF)
            w.shelf.choose(key)

    def device(self) -> None:
        """A calliper or scale on a serial line, let go when one is connected already."""
        line = self._w.device
        if line.connected:
            line.let_go()
            self._say("fits", "The device is let go")
            return
        path = self._ask.open_file(self._w, "Line of the calliper or scale", Path("/dev"), "Serial lines (*)")
        if path is not None:
            line.connect_to(path)
            self._say("fits", f"Connected: {path.name}. A reading lands in the field with the cursor")

    def repotted(self) -> None:
        """The chosen pot becomes the present one from today on; the log keeps what was planned."""
        s = self._w.session
        lineup = s.collection.lineups.get(s.tree_id)
        pot = s.collection.pots.get(lineup.chosen) if lineup and lineup.chosen else None
        if s.tree is None or lineup is None or pot is None:
            raise FieldError("line-up", "no pot is chosen yet; choose one in step 3")
        a, old = s.tried(pot), s.planting
        key = fresh_id({p.id for p in s.collection.plantings}, s.tree_id)
        planting = Planting(
            id=key, tree=s.tree_id, pot=pot.id, mix=a.case.mix.id if a.case.mix else None, date=s.today,
            offset_x_mm=a.seat.x_mm, offset_y_mm=a.seat.y_mm,
        )  # fmt: skip
        changes: list[Change] = [("planting", key, planting), ("pot", pot.id, pot.changed(state="in_use"))]
        if old is not None:
            changes.append(("planting", old.id, old.changed(ended=s.today)))
            before = s.collection.pots.get(old.pot)
            if before is not None and before.id != pot.id:
                changes.append(("pot", before.id, before.changed(state="shelf")))
        figures = {"soil_l": float(a.figures.fresh_soil_l[0])}
        if a.figures.roots is not None:
            figures["removed_feeder_share"] = float(a.figures.roots.removed_feeder_share[0])
            figures["off_bottom_mm"] = float(a.figures.roots.off_bottom_mm[0])
        event = Event(
            id=f"repotted-{key}", tree=s.tree_id, date=s.today, kind="repotted", pot=pot.id,
            text=f"Into {pot.name}.", figures=tuple((k, round(v, 3)) for k, v in figures.items()),
        )  # fmt: skip
        changes += [("event", event.id, event), ("lineup", s.tree_id, lineup.changed(chosen=None))]
        if s.edit(f"Repotted into {pot.name}", changes):
            self._w.show_step(Step.TREE)

    # files -------------------------------------------------------------------------------------------------------

    def open(self) -> None:
        """Open another collection or a bundle."""
        path = self._ask.open_file(self._w, "Open a collection or a bundle", self._w.session.path.parent, COLLECTIONS)
        if path is not None:
            self._swap(file_for(path))

    def new_file(self) -> None:
        """Start an empty collection."""
        path = self._ask.save_file(
            self._w, "Start a new collection", self._w.session.path.parent / "New bench.kesh", COLLECTIONS
        )
        if path is not None:
            self._swap(CollectionFile.create(path.with_suffix(".kesh")))

    def _swap(self, file: CollectionFile) -> None:
        w = self._w
        w.session.take_file(file)
        w.settings.put("last_file", str(file.path))
        w.trees.search.clear()
        w.show_place(Place.BENCH)
        w.refresh()
        say_state(w)

    def bring_in(self) -> None:
        """Pots from CSV, or a bundle's records, as one step that can be undone. Long lists are read in the background."""
        path = self._ask.open_file(self._w, "Bring in pots or a bundle", self._w.session.path.parent, TABLES)
        if path is None:
            return
        from kesh.formats.bundle import load_bundle
        from kesh.formats.lists.pots import read_pots

        here = self._w.session.collection

        def read(progress: Progress) -> tuple[list[Change], str, tuple[str, ...]]:
            if path.suffix.lower() != ".csv":
                return (*bundle_changes(load_bundle(path, progress), here), ())
            found = read_pots(path, here.pots, progress)
            told = f"{len(found.pots)} pots came in"
            if found.problems:
                told += f", {len(found.problems)} rows left out; the first: {found.problems[0]}"
            return [("pot", p.id, p) for p in found.pots], told, found.problems

        self._w.runner.start_long("import", f"Reading {path.name}", read, lambda found: self._take_in(path, *found))

    def _take_in(self, path: Path, changes: list[Change], told: str, problems: tuple[str, ...]) -> None:
        self._w.shelf.show_problems(problems)
        if not changes:
            self._say("watch", f"Nothing new came in. {told}")
        elif self._w.session.edit(f"Brought in {path.name}", changes):
            self._say("watch" if "left out" in told else "fits", told)

    def export(self) -> None:
        """The whole collection as a bundle, or the pots as CSV."""
        from kesh.formats.bundle import bundle_of
        from kesh.formats.lists.pots import write_pots

        s = self._w.session
        suggested = s.path.with_suffix(".json")
        path = self._ask.save_file(
            self._w, "Write a bundle or the pots", suggested, "Bundles (*.json);;Pots as CSV (*.csv)"
        )
        if path is None:
            return
        if path.suffix.lower() == ".csv":
            write_pots(path, s.collection.pots.values())
        else:
            write_text(path, json.dumps(bundle_of(s.collection), indent=1, ensure_ascii=False))
        self._say("fits", f"Written: {path.name}")

    def print_sheet(self) -> None:
        """The A4 sheet of the tree in hand in the chosen pot, or in its present one."""
        from kesh.ui.printing import print_assessment

        s = self._w.session
        a = sheet_assessment(self._w)
        if a is None:
            raise FieldError("sheet", "the tree stands in no pot yet; choose one in step 3")
        suggested = s.path.parent / f"{a.case.tree.name}, {a.pot.name}.pdf"
        path = self._ask.save_file(self._w, "Print the sheet", suggested, "PDF (*.pdf)")
        if path is not None:
            print_assessment(a, path, s.units, s.today, str(self._w.settings.get("money")))
            self._say("fits", f"Printed: {path.name}")

    def picture(self) -> None:
        """The drawing in sight as a picture."""
        from kesh.ui.printing import save_drawing

        view: QWidget = self._w.middle.currentWidget() or self._w
        if self._w.place == Place.BENCH:
            view = self._w.sheet.stack.currentWidget() or view
        suggested = self._w.session.path.with_suffix(".png")
        path = self._ask.save_file(self._w, "Save the drawing", suggested, "PNG (*.png);;PDF (*.pdf);;SVG (*.svg)")
        if path is not None:
            save_drawing(view, path)
            self._say("fits", f"Saved: {path.name}")

    # look --------------------------------------------------------------------------------------------------------

    def turn(self, key: str, options: tuple[str, ...]) -> None:
        """The next unit of a kind."""
        w = self._w
        now = str(w.settings.get(key))
        w.settings.put(key, options[(options.index(now) + 1) % len(options)])
        w.session.set_units(w.settings.units())

    def money(self) -> None:
        """The next currency; sums are kept as they are, nothing is converted."""
        w = self._w
        now = str(w.settings.get("money"))
        w.settings.put("money", MONEY[(MONEY.index(now) + 1) % len(MONEY)])
        w.session.money = str(w.settings.get("money"))
        w.session.look_changed.emit()
        self._say("fits", f"Money in {w.session.money}; sums are not converted")

    def theme(self) -> None:
        """Light to dark and back."""
        w = self._w
        now = LIGHT if w.session.theme.is_dark else DARK
        w.settings.put("theme", now.name)
        w.session.set_theme(now)

    def text_size(self, by: int) -> None:
        """Larger or smaller text."""
        w = self._w
        percent = max(80, min(200, int(w.settings.get("text_percent")) + by))
        w.settings.put("text_percent", percent)
        fonts.set_scale(percent)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.setFont(fonts.text(14))
        w.session.look_changed.emit()
        self._say("fits", f"Text at {percent} %")


def file_for(path: Path) -> CollectionFile:
    """A collection file to work in. A bundle becomes a new collection beside it. Raises KeshError."""
    if path.suffix.lower() != ".json":
        return CollectionFile.open(path)
    from kesh.formats.bundle import load_bundle

    target = path.with_suffix(".kesh")
    number = 2
    while target.exists():
        target, number = path.with_name(f"{path.stem} {number}.kesh"), number + 1
    return CollectionFile.create(target, load_bundle(path))


def bundle_changes(bundle: Collection, here: Collection) -> tuple[list[Change], str]:
    """Records of a bundle that are not here yet, and what is said of them; nothing here is overwritten."""
    known = {(kind, key) for kind, key, _ in all_records(here)}
    every = [(kind, key, record) for kind, key, record in all_records(bundle)]
    fresh = [change for change in every if change[:2] not in known]
    left = len(every) - len(fresh)
    told = f"{len(fresh)} records came in" + (f", {left} left out: they are here already" if left else "")
    return list(fresh), told


def sheet_assessment(window: "MainWindow"):  # type: ignore[no-untyped-def]
    """What the printed sheet speaks of: the pot in hand in the line-up, the chosen one, or the present one."""
    s = window.session
    lineup = s.collection.lineups.get(s.tree_id)
    key = window.sheet.lineup.chosen if window.step == Step.LINEUP else lineup.chosen if lineup else None
    pot = s.collection.pots.get(key) if key else None
    return s.tried(pot) if pot is not None and pot is not s.pot else s.assessment()


def say_state(window: "MainWindow") -> None:
    """Read-only files and lost records are said at once."""
    file = window.session.file
    if file.read_only:
        window.session.said.emit("watch", f"Read-only: {file.read_only}")
    elif file.problems:
        more = f" and {len(file.problems) - 1} more" if len(file.problems) > 1 else ""
        window.session.said.emit("watch", f"Could not be read: {file.problems[0]}{more}")


def today() -> date:
    """The day on this machine."""
    return date.today()
