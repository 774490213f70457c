"""A room knows its own widgets and the desk; the house knows rooms by their rows. The guard is shown to bite."""

from pathlib import Path

import grimp
import pytest

from kesh.ui.commands import COMMANDS, ROOM_OF
from kesh.ui.rooms import PLACES, ROOMS, STEPS, known, room_of

SRC = Path(__file__).parents[1] / "src" / "kesh"
FOLDERS = sorted(p.name for p in (SRC / "ui" / "rooms").iterdir() if (p / "room.py").exists())
# those who must know rooms by their rows only: the rail, the step path, the window, the command line
HOUSE = (
    "kesh.ui.window",
    "kesh.ui.widgets",
    "kesh.line.main",
    "kesh.ui.app",
    "kesh.ui.session",
    "kesh.desk",
    "kesh.ui.paint",
    "kesh.ui.hand",
    "kesh.ui.paper",
)


@pytest.fixture
def graph() -> grimp.ImportGraph:
    return grimp.build_graph("kesh", cache_dir=None)


def inside(module: str, package: str) -> bool:
    return module == package or module.startswith(f"{package}.")


def offences(graph: grimp.ImportGraph) -> set[tuple[str, str]]:
    """(importer, imported) wherever a room reaches into another, or the house into a room."""
    found: set[tuple[str, str]] = set()
    for module in graph.modules:
        for imported in graph.find_modules_directly_imported_by(module):
            room = next((f for f in FOLDERS if inside(imported, f"kesh.ui.rooms.{f}")), None)
            if room is None or inside(module, f"kesh.ui.rooms.{room}"):
                continue
            other = next((f for f in FOLDERS if inside(module, f"kesh.ui.rooms.{f}")), None)
            if other is not None or any(inside(module, name) for name in HOUSE):
                found.add((module, imported))
    return found


def test_no_room_reaches_into_another_and_the_house_into_none(graph: grimp.ImportGraph) -> None:
    assert offences(graph) == set()


@pytest.mark.parametrize(
    ("importer", "imported"),
    [
        ("kesh.ui.rooms.tree.face", "kesh.ui.rooms.shelf.panel"),
        ("kesh.ui.window", "kesh.ui.rooms.lineup.sheet"),
        ("kesh.ui.widgets.frame", "kesh.ui.rooms.brief.face"),
        ("kesh.line.main", "kesh.ui.rooms.workshop.face"),
    ],
)
def test_the_guard_bites_a_planted_offender(graph: grimp.ImportGraph, importer: str, imported: str) -> None:
    assert importer in graph.modules
    assert imported in graph.modules
    graph.add_import(importer=importer, imported=imported)
    assert offences(graph) == {(importer, imported)}


def test_every_folder_is_one_row_and_every_row_one_folder() -> None:
    homes = {room.load.split(":")[0].removeprefix("kesh.ui.rooms.").split(".")[0] for room in ROOMS}
    assert homes == set(FOLDERS)
    assert len({room.key for room in ROOMS}) == len(ROOMS) == len(FOLDERS)
    assert {*STEPS, *PLACES} == set(ROOMS)
    assert all(known(room.key) and room_of(room.key) is room for room in ROOMS)


def test_commands_belong_to_one_room_or_to_the_house() -> None:
    of_rooms = [command.key for room in ROOMS for command in room.commands]
    assert len(of_rooms) == len(set(of_rooms))
    assert set(of_rooms) <= set(COMMANDS)
    assert {key: ROOM_OF[key] for key in of_rooms} == {c.key: room.key for room in ROOMS for c in room.commands}
    keys = [c.shortcut for c in COMMANDS.values() if c.shortcut]
    assert len(keys) == len(set(keys)), "one key, one command"


def test_the_house_names_no_room() -> None:
    for name in ("ui/window.py", "ui/widgets/frame.py"):
        text = (SRC / name).read_text()
        # the bench opens with the tree; nothing else of a room's name stands here
        assert not any(f'"{key}"' in text for key in ("shelf", "workshop", "reference", "brief")), name
