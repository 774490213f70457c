"""The house: one row for each room, in the order in which they are shown. A new room is a folder and a row here."""

from kesh.ui.rooms.brief.room import BRIEF
from kesh.ui.rooms.group.room import GROUP
from kesh.ui.rooms.lineup.room import LINEUP
from kesh.ui.rooms.log.room import LOG
from kesh.ui.rooms.planting.room import PLANTING
from kesh.ui.rooms.reference.room import REFERENCE
from kesh.ui.rooms.room import Room
from kesh.ui.rooms.roots.room import ROOTS
from kesh.ui.rooms.season.room import SEASON
from kesh.ui.rooms.shelf.room import SHELF
from kesh.ui.rooms.tree.room import TREE
from kesh.ui.rooms.water.room import WATER
from kesh.ui.rooms.workshop.room import WORKSHOP
from kesh.ui.session import Session

ROOMS: tuple[Room, ...] = (TREE, BRIEF, LINEUP, GROUP, ROOTS, WATER, PLANTING, LOG, SHELF, WORKSHOP, SEASON, REFERENCE)
STEPS = tuple(room for room in ROOMS if room.kind == "step")
PLACES = tuple(room for room in ROOMS if room.kind == "place")


def steps_for(session: Session) -> tuple[Room, ...]:
    """The steps of the tree in hand, in their order: their numbers count from here."""
    return tuple(room for room in STEPS if room.shown is None or room.shown(session))


def room_of(key: str) -> Room:
    """A room by its key. Raises KeyError for a room that is not there."""
    return next(room for room in ROOMS if room.key == key)


def known(key: str) -> bool:
    """Whether there is such a room."""
    return any(room.key == key for room in ROOMS)
