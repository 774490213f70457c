"""Place Shelf: all pots."""

from kesh.ui.rooms import signs
from kesh.ui.rooms.room import Command, Room

SHELF = Room(
    "shelf", "place", "Shelf", "All pots", "kesh.ui.rooms.shelf.face:ShelfFace", sign=signs.shelf,
    commands=(
        Command("new_pot", "Add a pot", "Ctrl+Shift+N", "Shelf", "add_pot"),
        Command("pot_from_photo", "A pot from its photograph", "Ctrl+Shift+K", "Shelf", "pot_from_photo", also="measure picture camera sale market"),
        Command("pot_from_clipboard", "A pot from the copied picture", "Ctrl+Alt+C", "Shelf", "pot_from_clipboard"),
        Command("colour_from_photo", "Colour of the pot from a photograph", "Ctrl+Alt+Shift+K", "Shelf", "colour_from_photo", also="glaze hue swatch picture"),
        Command("delete_pot", "Delete the pot in hand", "Ctrl+Alt+Backspace", "Shelf", "delete_pot"),
    ),
    also="containers trays bonsai pots hachi glaze clay holes volume suiban slab",
)  # fmt: skip
