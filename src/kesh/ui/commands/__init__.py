"""Commands that belong to no room: trees, files, look, help. Each module holds its rows; this is all of them."""

from functools import partial

from kesh.reference.search import find
from kesh.ui.commands.edit import EDIT
from kesh.ui.commands.files import FILES
from kesh.ui.commands.help import HELP
from kesh.ui.commands.look import LOOK
from kesh.ui.commands.trees import TREES
from kesh.ui.rooms import PLACES, ROOMS, STEPS
from kesh.ui.rooms.room import Command, Context


def _go(room: str, c: Context) -> None:
    c.go(room)


def _goes() -> list[Command]:
    """Places by Ctrl and their number; steps by name, their number counts what the tree in hand has."""
    found = [Command("bench", "Go to the bench", "Ctrl+1", "Places", lambda c: c.go("bench"))]
    for n, room in enumerate(PLACES, 2):
        found.append(
            Command(
                room.key,
                f"Go to the {room.words.lower()}",
                f"Ctrl+{n}",
                "Places",
                partial(_go, room.key),
                also=room.also,
            )
        )
    for room in STEPS:
        key = f"step_{room.key.replace('-', '')}"
        found.append(Command(key, f"Step {room.words}", "", "Steps", partial(_go, room.key), also=room.also))
    return found


GROUPS = ("Places", "Steps", "Trees", "Sheet", "Shelf", "Workshop", "Season", "Edit", "File", "Look", "Help")


def _grouped(commands: list[Command]) -> dict[str, Command]:
    order = {group: n for n, group in enumerate(GROUPS)}
    return {c.key: c for c in sorted(commands, key=lambda c: order.get(c.group, len(GROUPS)))}


COMMANDS: dict[str, Command] = _grouped(
    [*_goes(), *TREES, *(c for room in ROOMS for c in room.commands), *EDIT, *FILES, *LOOK, *HELP]
)
# commands under the names that the search of the line has for them
_ALSO = {"find": "commands", "help": "keys", "restore": "good_copy"}


def command_of(key: str) -> str:
    """The command of the window that a place or a command of the search stands for."""
    if key in _ALSO or key.replace("-", "_") in COMMANDS:
        return _ALSO.get(key, key.replace("-", "_"))
    return f"step_{key.replace('-', '')}"


def meant(words: str) -> list[str]:
    """Keys of commands that some words may mean beside those that hold them: by the search of the whole of Kesh."""
    return list(dict.fromkeys(command_of(hit.key) for hit in find(words, kinds=("place", "command"))))[:8]


ROOM_OF: dict[str, str] = {c.key: room.key for room in ROOMS for c in room.commands}

SHEET_KEYS: tuple[tuple[str, str], ...] = (
    (f"1 to {len(STEPS)}", "the steps in their order"),
    ("Z", "fit the sheet"),
    ("X", "true size on the screen"),
    ("+  -", "zoom at the pointer; Ctrl and wheel too"),
    ("middle drag", "move the paper"),
    ("D", "dimensions on and off"),
    ("E", "eye level on and off"),
    ("G  H", "take the next or the former grip in hand"),
    ("arrows", "move it 1 mm; Shift 0.1, Ctrl 10"),
    ("Esc", "let go; stop long work"),
    *(keys for room in ROOMS for keys in room.sheet_keys),
)
