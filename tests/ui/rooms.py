"""Keys of the rooms, for tests that walk all of them."""

from kesh.ui.rooms import PLACES, STEPS

STEP_KEYS = tuple(room.key for room in STEPS)
PLACE_KEYS = tuple(room.key for room in PLACES)
