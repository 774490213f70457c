"""Step Roots: the roots round the clock, and what goes when."""

from kesh.base.words import counted
from kesh.ui.rooms.room import Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    if s.tree is None:
        return "", False
    if s.planting is not None and s.planting.plan:
        cuts = sum(step.action != "keep" for step in s.planting.plan)
        return f"{counted(cuts, 'cut')} planned", True
    return (counted(len(s.tree.root_map), "root") if s.tree.root_map else "not yet"), False


ROOTS = Room(
    "roots", "step", "Roots", "The root map, and which root goes when", "kesh.ui.rooms.roots.face:RootsFace",
    note=_note,
    sheet_keys=(
        ("R K P S L N", "roots: next, keep; pocket, side; lens, room"),
    ),
    also="root map nebari which root goes circling crossing taproot root plan stage sector graft pocket comb saw root pruning",
)  # fmt: skip
