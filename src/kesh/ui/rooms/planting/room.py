"""Step Planting: where it stands, what holds it, what is cut and filled, and the work in order."""

from kesh.advice.planting.meant import planting_in
from kesh.desk.planting import place_words, pots_to_plant
from kesh.ui.rooms.room import Command, Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    if s.tree is None:
        return "", False
    pots = pots_to_plant(s.collection, s.tree_id)
    if not pots:
        return "not yet", False
    held = s.collection.planting_of(s.tree_id, pots[0])
    if held is None:
        return "not yet", False
    return place_words(planting_in(s.collection, s.tree_id, s.collection.pots[pots[0]]), s.units), held.planned or bool(
        held.ties
    )


PLANTING = Room(
    "planting", "step", "Planting", "Place, ties, cut list, soil and the order of the work", "kesh.ui.rooms.planting.face:PlantingFace",
    views=(("ties", "Ties"), ("place", "Place"), ("work", "Work")),
    note=_note,
    commands=(
        Command("at_bench", "At the bench, hands free", "Ctrl+B", "Steps", "at_bench", also="work repotting clock foot switch second screen"),
        Command("work_sheet", "Print the work sheet", "Ctrl+Alt+P", "File", "print_sheet", also="worksheet pdf cut list steps"),
        Command("potted", "It is potted: write it down", "Ctrl+Alt+L", "Steps", "potted", also="planted repotted log aftercare in use"),
    ),
    sheet_keys=(("T R M W", "planting: tilt, turn, mound, pot"),),
    also="placement ties wire tie holes anchor guy raft stones screens mesh clips cut list soil litres scoops work sheet order of work mound headspace soil line graft",
)  # fmt: skip
