"""Collections, lists, bundles, sheets and pictures: what comes in and what goes out."""

import json
import shutil
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PyQt6.QtGui import QGuiApplication

from kesh.base.errors import CollectionFileError, FieldError
from kesh.base.progress import Progress
from kesh.base.words import counted
from kesh.base.writing import reason, shown, write_bytes, write_text
from kesh.formats.lists.events import is_log, read_events
from kesh.formats.lists.read import Imported
from kesh.formats.lists.spoken.table import SpokenTable
from kesh.formats.lists.table import read_table
from kesh.model import Collection
from kesh.store.backups import last_good_copy
from kesh.store.body import free_name
from kesh.store.collection_file import Change, CollectionFile
from kesh.store.records import all_records
from kesh.ui.rooms.room import Command, Context

COLLECTIONS = "Kesh collections (*.kesh);;Bundles (*.json)"
LISTS = "Lists (*.csv *.txt *.tsv);;Bundles (*.json)"
OUT = "Bundles (*.json);;Bundles with photographs (*.json);;Pots as CSV (*.csv);;Trees as CSV (*.csv)"


def open_file(c: Context) -> None:
    """Open another collection or a bundle."""
    path = c.asker.open_file(c.desk.parent_widget(), "Open a collection or a bundle", c.folder, COLLECTIONS)
    if path is not None:
        c.desk.take_file(file_for(path))


def new_file(c: Context) -> None:
    """Start an empty collection."""
    path = c.asker.save_file(c.desk.parent_widget(), "Start a new collection", c.folder / "New bench.kesh", COLLECTIONS)
    if path is not None:
        c.desk.take_file(CollectionFile.create(path.with_suffix(".kesh"), new_collection(path.stem)))


def save_copy(c: Context) -> None:
    """The whole collection, photographs and all, as a file of its own; work goes on in the copy when this one is read-only."""
    s = c.session
    suggested = c.folder / f"{s.path.stem} copy.kesh"
    path = c.asker.save_file(c.desk.parent_widget(), "Save a copy", suggested, "Kesh collections (*.kesh)")
    if path is None:
        return
    from kesh.store.reading import read_pictures

    target = path.with_suffix(".kesh")
    if not s.file.read_only:
        s.file.copy_to(target)
        c.say("fits", f"Copied: {shown(target)}, one file with photographs and history, opened and found whole")
        return
    made = CollectionFile.create(target, s.file.collection, read_pictures(s.path))
    if s.file.read_only:
        c.desk.take_file(made)
    else:
        made.close()
    c.say("fits", f"Copied: {path.stem}.kesh")


def move_out(c: Context) -> None:
    """Back up and move: everything in one file, checked by opening it, to be carried to another machine."""
    s = c.session
    if s.file.read_only:
        raise CollectionFileError(f"{s.path.name} is read-only: {s.file.read_only}; use Save a copy")
    suggested = c.folder / f"{s.path.stem} {s.today.isoformat()}.kesh"
    path = c.asker.save_file(c.desk.parent_widget(), "Back up and move", suggested, "Kesh collections (*.kesh)")
    if path is None:
        return
    target = path.with_suffix(".kesh")
    s.file.copy_to(target)
    made = CollectionFile.open(target, backup=False)
    told = f"{counted(len(made.collection.trees), 'tree')}, {counted(len(made.collection.pots), 'pot')}"
    made.close()
    size = target.stat().st_size / 1e6
    c.say(
        "fits",
        f"{shown(target)}, {size:.1f} MB: {told}, opened and found whole. Copy this one file; Ctrl+O opens it there",
    )


def good_copy(c: Context) -> None:
    """Take the last good copy of a collection that is broken; the broken one is put aside under its own name."""
    s = c.session
    broken = s.file.instead_of or (s.path if s.file.read_only else None)
    if broken is None:
        raise CollectionFileError(
            f"{s.path.name} is whole; its copies stand in {s.path.parent.name}/backups, open one with Ctrl+O"
        )
    copy = last_good_copy(broken)
    if copy is None:
        raise CollectionFileError(
            f"there is no good copy of {broken.name} in its backups folder; Kesh goes on in {s.path.name}"
        )
    try:
        if broken.exists():
            broken.rename(free_name(broken, "broken"))
        shutil.copyfile(copy, broken)
    except OSError as err:
        raise CollectionFileError(
            f"{shown(broken)} cannot be replaced: {reason(err)}; open {copy.name} with Ctrl+O"
        ) from err
    c.desk.take_file(CollectionFile.open(broken, backup=False))
    c.say("fits", f"{copy.name} stands as {broken.name} again; the broken file was put aside beside it")


# where it is found
GOOD_COPY_KEYS = "Ctrl+Shift+G, Take the last good copy"


def new_collection(name: str) -> Collection:
    """An empty collection with the starter mixes and a climate, both to be changed."""
    from kesh.reference.starters import starter_mixes, starter_site

    return Collection(name=name, mixes=starter_mixes(), site=starter_site())


def file_for(path: Path) -> CollectionFile:
    """A collection file to work in: a new one where a name ending in .kesh is not there yet, a bundle as a new one beside it. Raises KeshError."""
    if path.suffix.lower() == ".kesh" and not path.exists() and path.parent.is_dir():
        return CollectionFile.create(path, new_collection(path.stem))
    if path.suffix.lower() != ".json":
        return CollectionFile.open(path)
    from kesh.formats.bundle import bring_bundle

    target, number = path.with_suffix(".kesh"), 2
    while target.exists():
        target, number = path.with_name(f"{path.stem} {number}.kesh"), number + 1
    brought = bring_bundle(path)
    file = CollectionFile.create(target, brought.collection, brought.pictures)
    file.problems += [*brought.problems, *brought.odd]
    return file


@dataclass(frozen=True)
class Arrival:
    """Records that are to come in as one step, with what is said of them."""

    changes: tuple[Change, ...]
    pictures: dict[str, bytes]
    told: str
    problems: tuple[str, ...] = ()
    odd: tuple[str, ...] = ()


def bring_in(c: Context, path: Path | None = None) -> None:
    """Pots or trees from a list as people keep it, shown row by row before anything is taken; or a bundle's records."""
    path = path or c.asker.open_file(c.desk.parent_widget(), "Bring in a list or a bundle", c.folder, LISTS)
    if path is None:
        return
    if path.suffix.lower() == ".json":
        _bring_bundle(c, path)
    elif is_log(path):
        _bring_log(c, path)
    else:
        _bring_list(c, path)


def _bring_bundle(c: Context, path: Path) -> None:
    from kesh.formats.bundle import bring_bundle

    here = c.session.collection

    def read(progress: Progress) -> Arrival:
        brought = c.runner.apart(partial(bring_bundle, path), progress)
        changes, told = bundle_changes(brought.collection, here)
        if brought.problems:
            told += f", {counted(len(brought.problems), 'record')} left out; the first: {brought.problems[0]}"
        return Arrival(tuple(changes), dict(brought.pictures), told, brought.problems, brought.odd)

    c.runner.start_long("import", f"Reading {shown(path)}", read, lambda found: take_in(c, shown(path), found))


def _bring_log(c: Context, path: Path) -> None:
    """Entries of a log; one that is here already is not doubled."""
    here = c.session.collection

    def read(progress: Progress) -> Arrival:
        brought = read_events(read_table(path), here, progress)
        told = f"{counted(len(brought.events), 'log entry')} came in"
        if brought.problems:
            told += f", {counted(len(brought.problems), 'row')} left out; the first: {brought.problems[0]}"
        return Arrival(
            tuple(("event", e.id, e) for e in brought.events),
            {},
            told,
            brought.problems,
            tuple(brought.doubts.values()),
        )

    c.runner.start_long("import", f"Reading {shown(path)}", read, lambda found: take_in(c, shown(path), found))


def _bring_list(c: Context, path: Path) -> None:
    from kesh.formats.lists.any import read_list
    from kesh.ui.widgets.preview import ListPreview

    s = c.session
    here, today, rows = s.collection, s.today, s.tables

    def read(progress: Progress):  # type: ignore[no-untyped-def]
        work = partial(read_list, path, dict(here.pots), dict(here.trees), rows.species, today)
        return c.runner.apart(work, progress)

    def show(found) -> None:  # type: ignore[no-untyped-def]
        if found.table is not None:
            _look_over(c, shown(path), found.table)
        elif ListPreview.ask(c.asker, c.desk.parent_widget(), s.theme, shown(path), found, s.units):
            _take_list(c, shown(path), found)
        else:
            c.say("watch", f"Nothing was taken from {shown(path)}")

    c.runner.start_long("import", f"Reading {shown(path)}", read, show)


def paste_list(c: Context) -> None:
    """A list of pots from the clipboard, as it is copied out of a table."""
    from kesh.formats.lists.spoken.pots import is_pots
    from kesh.formats.lists.spoken.table import table_of_text

    board = QGuiApplication.clipboard()
    text = board.text() if board is not None else ""
    if not text.strip():
        c.say("watch", "The clipboard holds no text; copy the rows of a list of pots first")
        return
    table = table_of_text(text, "the clipboard")
    if not is_pots(table):
        c.say("no", "No sizes of pots were understood on the clipboard; copy the rows with their names and sizes")
        return
    _look_over(c, "the clipboard", table)


def _look_over(c: Context, name: str, table: SpokenTable) -> None:
    """A list of pots in the words it was written in: looked over, mended in place, then taken or left."""
    from kesh.desk.brought_list import BroughtList
    from kesh.ui.widgets.list_sheet import ListSheet

    s = c.session
    brought = BroughtList(table, dict(s.collection.pots), s.units)
    if c.asker.agree(ListSheet(c.desk.parent_widget(), s.theme, name, brought)):
        _take_list(c, name, brought.imported())
    else:
        c.say("watch", f"Nothing was taken from {name}")


def _take_list(c: Context, name: str, found: Imported) -> None:
    kind = "tree" if found.trees else "pot"
    records = found.trees or found.pots
    here = c.session.collection.pots
    changed = sum(r.id in here for r in found.pots)
    told = f"{counted(len(records) - changed, kind)} came in" + (
        f", {counted(changed, kind)} changed" if changed else ""
    )
    if found.problems:
        told += f", {counted(len(found.problems), 'row')} left out; the first: {found.problems[0]}"
    changes = tuple((kind, r.id, r) for r in records)
    take_in(c, name, Arrival(changes, {}, told, found.problems, found.odd))
    if changes and kind == "tree":
        c.session.choose_tree(records[0].id)


def take_in(c: Context, name: str, found: Arrival) -> None:
    """Write what came as one step, and say what was made of it."""
    s = c.session
    s.left_out = (*found.problems, *found.odd)
    if not found.changes:
        c.say("watch", f"Nothing new came in. {found.told}")
        s.changed.emit()
        return
    for body in found.pictures.values():
        s.file.put_picture(body)
    if s.edit(f"Brought in {name}", list(found.changes)):
        odd = f"; {counted(len(found.odd), 'record')} to look at: {found.odd[0]}" if found.odd else ""
        c.say("watch" if found.problems or found.odd or "left out" in found.told else "fits", found.told + odd)


def bundle_changes(bundle: Collection, here: Collection) -> tuple[list[Change], str]:
    """Records of a bundle that are not here yet, and what is said of them; nothing here is overwritten."""
    known = {(kind, key) for kind, key, _ in all_records(here)}
    every = [(kind, key, record) for kind, key, record in all_records(bundle)]
    fresh = [change for change in every if change[:2] not in known]
    left = len(every) - len(fresh)
    told = f"{counted(len(fresh), 'record')} came in" + (f", {left} left out: here already" if left else "")
    return list(fresh), told


def export(c: Context) -> None:
    """The whole collection as a bundle, with its photographs where they are asked for, or the pots as CSV."""
    s = c.session
    path, kind = c.asker.save_as(c.desk.parent_widget(), "Write a bundle or the pots", s.path.with_suffix(".json"), OUT)
    if path is None:
        return
    write_export(s.file, s.collection, path, pictures="photographs" in kind, trees="Trees" in kind)
    c.say("fits", f"Written: {shown(path)}")


def write_export(
    file: CollectionFile, collection: Collection, path: Path, *, pictures: bool, trees: bool = False
) -> None:
    """A bundle, or a list of pots or of trees by the ending of its name. Raises KeshError."""
    from kesh.formats.bundle import bundle_of
    from kesh.formats.lists.pots import write_pots
    from kesh.formats.lists.trees import trees_csv
    from kesh.reference.tables import tables

    if path.suffix.lower() == ".csv" and trees:
        rows = tables(collection.species_rows, collection.substrate_rows)
        write_text(path, trees_csv(collection.trees.values(), rows.species))
        return
    if path.suffix.lower() == ".csv":
        write_pots(path, collection.pots.values())
        return
    found: dict[str, bytes] | None = None
    if pictures:
        found = {}
        for key in {photo.picture for photo in collection.photos.values()}:
            try:
                found[key] = file.picture(key)
            except CollectionFileError:
                # a photograph whose file is gone travels as its record alone
                continue
    write_text(path, json.dumps(bundle_of(collection, found), indent=1, ensure_ascii=False))


def print_sheet(c: Context) -> None:
    """The A4 sheet of the tree in hand in the pot in hand, the chosen one, or its present one."""
    from kesh.ui.paper.printing import sheet_pdf

    s = c.session
    a = c.desk.in_question()
    if a is None:
        raise FieldError("sheet", "the tree stands in no pot yet; choose one in step 3")
    suggested = c.folder / f"{a.case.tree.name}, {a.pot.name}.pdf".replace("/", "-")
    path = c.asker.save_file(c.desk.parent_widget(), "Print the sheet", suggested, "PDF (*.pdf)")
    if path is None:
        return
    units, today, money = s.units, s.today, str(c.settings.get("money"))

    def paint(progress: Progress) -> None:
        body = sheet_pdf(a, units, today, money)
        progress.finish()
        write_bytes(path, body)

    c.runner.start_long("print", f"Painting {shown(path)}", paint, lambda _: c.say("fits", f"Printed: {shown(path)}"))


def picture(c: Context) -> None:
    """The drawing in sight as a picture."""
    from kesh.ui.paper.drawings_out import save_drawing

    suggested = c.session.path.with_suffix(".png")
    kinds = "PNG (*.png);;PDF (*.pdf);;SVG (*.svg)"
    path = c.asker.save_file(c.desk.parent_widget(), "Save the drawing", suggested, kinds)
    if path is not None:
        save_drawing(c.desk.in_sight(), path)
        c.say("fits", f"Saved: {shown(path)}")


def demo(c: Context) -> None:
    """A fresh copy of the invented collection; the own one stays where it is and opens again with Ctrl+O."""
    from kesh.demo.opening import open_demo

    c.desk.take_file(open_demo())
    c.say(
        "fits",
        f"The demo bench, an invented collection. Your own stands in {c.session.path.parent.name}: open it with Ctrl+O",
    )


FILES = (
    Command("open", "Open a collection or a bundle", "Ctrl+O", "File", open_file),
    Command("new_file", "Start a new collection", "Ctrl+Shift+O", "File", new_file),
    Command("demo", "Look round the demo, an invented bench", "Ctrl+Shift+L", "File", demo),
    Command("save_copy", "Save a copy of this collection", "Ctrl+Shift+S", "File", save_copy),
    Command(
        "back_up",
        "Back up and move, in one file",
        "Ctrl+Alt+B",
        "File",
        move_out,
        also="backup transfer another computer usb stick save",
    ),
    Command(
        "good_copy", "Take the last good copy", "Ctrl+Shift+G", "File", good_copy, also="restore backup damaged broken"
    ),
    Command("import", "Bring in a list (CSV) or a bundle (JSON)", "Ctrl+I", "File", bring_in),
    Command(
        "paste_list",
        "Bring in a list of pots from the clipboard",
        "Ctrl+Alt+I",
        "File",
        paste_list,
        also="paste spreadsheet table copy",
    ),
    Command("export", "Write a bundle (JSON) or the pots (CSV)", "Ctrl+E", "File", export),
    Command("print", "Print the sheet of this tree and pot (PDF)", "Ctrl+P", "File", print_sheet),
    Command("picture", "Save the drawing (PNG, PDF or SVG)", "Ctrl+Shift+E", "File", picture),
    Command("quit", "Close Kesh; everything is written already", "Ctrl+Q", "File", lambda c: c.desk.close()),
)
