"""Step Tree: who the tree is and what it measures."""

from kesh.ui.rooms.room import Command, Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    height = s.tree.measure.height_mm if s.tree else None
    return (f"{s.units.mm(height)} tall" if height else "not measured" if s.tree else "", height is not None)


TREE = Room(
    "tree", "step", "Tree", "Who the tree is, its measures and photographs", "kesh.ui.rooms.tree.face:TreeFace",
    views=(("front", "Front"), ("photo", "Photograph"), ("roots", "Roots in the pot")),
    note=_note,
    commands=(
        Command("new_tree", "Add a tree", "Ctrl+N", "Trees", "add_tree"),
        Command("new_measures", "Measure this tree anew; old figures stay", "Ctrl+M", "Trees", "measure_anew"),
        Command("add_photo", "Add a photograph of this tree", "Ctrl+Shift+F", "Trees", "add_photo"),
        Command("paste_photo", "Add the copied picture to this tree", "Ctrl+Alt+V", "Trees", "paste_photo"),
        Command("add_above", "Add a photograph of the roots from above", "Ctrl+Shift+A", "Trees", "add_above"),
        Command("delete_photo", "Delete the photograph in hand", "Ctrl+Shift+Backspace", "Trees", "delete_photo"),
        Command("cut_out", "Cut the tree out of its photograph", "Ctrl+Shift+C", "Trees", "cut_out"),
    ),
    sheet_keys=(
        ("B", "photograph: marks, brushes for what is what"),
        ("Page Up  Page Down", "photograph: larger or smaller brush"),
        ("O", "photograph: cut-out on and off"),
        ("Y", "photograph: outlines of later years"),
        ("L  D", "photograph: a loop; another date over it"),
        ("T  U", "roots: tilt the pot; photograph on, off"),
    ),
    also="nebari root flare base taper trunk apex crown canopy height graft jin shari deadwood character measures photograph root ball root mass",
)  # fmt: skip
