"""Every command as a row of one table; menu of commands, shortcuts, key card and tests read it."""

from dataclasses import dataclass
from enum import StrEnum


class Act(StrEnum):
    """What can be done from anywhere."""

    BENCH = "bench"
    SHELF = "shelf"
    WORKSHOP = "workshop"
    REFERENCE = "reference"
    SOLVE = "solve"
    DRAW_POT = "draw_pot"
    MAKE_FILES = "make_files"
    IMPORT_MESH = "import_mesh"
    STEP_TREE = "step_tree"
    STEP_BRIEF = "step_brief"
    STEP_LINEUP = "step_lineup"
    TREE_BEFORE = "tree_before"
    TREE_AFTER = "tree_after"
    NEXT_VIEW = "next_view"
    FINDING_BEFORE = "finding_before"
    FINDING_AFTER = "finding_after"
    FIND = "find"
    UNDO = "undo"
    REDO = "redo"
    NEW_TREE = "new_tree"
    NEW_MEASURES = "new_measures"
    NEW_POT = "new_pot"
    ADD_PHOTO = "add_photo"
    CUT_OUT = "cut_out"
    DEVICE = "device"
    REPOTTED = "repotted"
    OPEN = "open"
    NEW_FILE = "new_file"
    IMPORT = "import"
    EXPORT = "export"
    PRINT = "print"
    PICTURE = "picture"
    UNITS = "units"
    VOLUMES = "volumes"
    MASSES = "masses"
    MONEY = "money"
    THEME = "theme"
    LARGER = "larger"
    SMALLER = "smaller"
    COMMANDS = "commands"
    KEYS = "keys"
    ABOUT = "about"
    QUIT = "quit"


@dataclass(frozen=True)
class ActionRow:
    """Text, shortcut and the group in which the key card lists it."""

    text: str
    shortcut: str
    group: str
    more: tuple[str, ...] = ()


ACTIONS = {
    Act.BENCH: ActionRow("Go to the bench", "Ctrl+1", "Places"),
    Act.SHELF: ActionRow("Go to the shelf", "Ctrl+2", "Places"),
    Act.WORKSHOP: ActionRow("Go to the workshop", "Ctrl+3", "Places"),
    Act.REFERENCE: ActionRow("Go to the reference", "Ctrl+4", "Places"),
    Act.STEP_TREE: ActionRow("Step 1: Tree", "1", "Steps"),
    Act.STEP_BRIEF: ActionRow("Step 2: Brief", "2", "Steps"),
    Act.STEP_LINEUP: ActionRow("Step 3: Line-up", "3", "Steps"),
    Act.TREE_BEFORE: ActionRow("The tree before", "[", "Trees"),
    Act.TREE_AFTER: ActionRow("The tree after", "]", "Trees"),
    Act.FIND: ActionRow("Find a tree, species or pot", "Ctrl+F", "Trees"),
    Act.NEW_TREE: ActionRow("Add a tree", "Ctrl+N", "Trees"),
    Act.NEW_MEASURES: ActionRow("Measure this tree anew, the old figures are kept", "Ctrl+M", "Trees"),
    Act.ADD_PHOTO: ActionRow("Add a photograph of this tree", "Ctrl+Shift+F", "Trees"),
    Act.CUT_OUT: ActionRow("Cut the tree out of its photograph", "Ctrl+Shift+C", "Trees"),
    Act.DEVICE: ActionRow("Connect or disconnect calliper or scale", "Ctrl+Shift+D", "Trees"),
    Act.REPOTTED: ActionRow("Write down: stands in the chosen pot from today", "Ctrl+R", "Trees"),
    Act.NEXT_VIEW: ActionRow("Next view of the sheet", "V", "Sheet"),
    Act.FINDING_BEFORE: ActionRow("Finding before", ",", "Sheet"),
    Act.FINDING_AFTER: ActionRow("Finding after", ".", "Sheet"),
    Act.NEW_POT: ActionRow("Add a pot", "Ctrl+Shift+N", "Shelf"),
    Act.SOLVE: ActionRow("Ask the solver for pots for this tree", "F5", "Workshop"),
    Act.DRAW_POT: ActionRow("Draw a new pot", "Ctrl+D", "Workshop"),
    Act.MAKE_FILES: ActionRow("Write the files of the maker in hand", "Ctrl+Shift+W", "Workshop"),
    Act.IMPORT_MESH: ActionRow("Bring in a pot as a mesh (STL, OBJ, 3MF, GLB)", "Ctrl+Shift+I", "Workshop"),
    Act.UNDO: ActionRow("Undo", "Ctrl+Z", "Edit"),
    Act.REDO: ActionRow("Do again", "Ctrl+Y", "Edit", ("Ctrl+Shift+Z",)),
    Act.OPEN: ActionRow("Open a collection or a bundle", "Ctrl+O", "File"),
    Act.NEW_FILE: ActionRow("Start a new collection", "Ctrl+Shift+O", "File"),
    Act.IMPORT: ActionRow("Bring in pots (CSV) or a bundle (JSON)", "Ctrl+I", "File"),
    Act.EXPORT: ActionRow("Write a bundle (JSON) or the pots (CSV)", "Ctrl+E", "File"),
    Act.PRINT: ActionRow("Print the sheet of this tree and pot (PDF)", "Ctrl+P", "File"),
    Act.PICTURE: ActionRow("Save the drawing (PNG, PDF or SVG)", "Ctrl+Shift+E", "File"),
    Act.UNITS: ActionRow("Lengths: mm, cm, inch", "Ctrl+U", "Look"),
    Act.VOLUMES: ActionRow("Volumes: litres, quarts", "Ctrl+Shift+U", "Look"),
    Act.MASSES: ActionRow("Masses: kg, lb", "Ctrl+Shift+M", "Look"),
    Act.MONEY: ActionRow("Money: £, €, $, ¥, Fr, kr", "Ctrl+Shift+P", "Look"),
    Act.THEME: ActionRow("Light or dark", "Ctrl+T", "Look"),
    Act.LARGER: ActionRow("Larger text", "Ctrl++", "Look", ("Ctrl+=",)),
    Act.SMALLER: ActionRow("Smaller text", "Ctrl+-", "Look"),
    Act.COMMANDS: ActionRow("Every command", "Ctrl+K", "Help"),
    Act.KEYS: ActionRow("Key card", "F1", "Help"),
    Act.ABOUT: ActionRow("Kesh and its licences", "Shift+F1", "Help"),
    Act.QUIT: ActionRow("Close Kesh; everything is written already", "Ctrl+Q", "File"),
}

SHEET_KEYS = (
    ("Z", "fit the sheet"),
    ("X", "true size on the screen"),
    ("+  -", "zoom at the pointer; Ctrl and wheel too"),
    ("middle drag", "move the paper"),
    ("D", "dimensions on and off"),
    ("E", "eye level on and off"),
    ("G  H", "take the next or the former grip in hand"),
    ("arrows", "move it 1 mm; Shift 0.1, Ctrl 10"),
    ("Esc", "let go; stop long work"),
    ("B", "photograph: marks, then a brush for leaves, wood, background"),
    ("Page Up  Page Down", "photograph: larger or smaller brush"),
    ("O", "photograph: cut-out on and off"),
    ("T", "roots: tilt the pot after watering"),
    ("Space", "line-up: swap with the last choice"),
    ("L", "line-up: lay the pots over one another"),
    ("Y", "photograph: outlines of later years"),
    ("T", "workshop, view: the tree in the pot"),
    ("Enter", "workshop, solver: open the design in hand"),
)
