"""Place Reference: tables, schools, where growers disagree, the climate and the mixes."""

from kesh.ui.rooms import signs
from kesh.ui.rooms.room import Room

REFERENCE = Room(
    "reference", "place", "Reference", "Climate, mixes, tables and schools", "kesh.ui.rooms.reference.face:ReferenceFace",
    sign=signs.reference,
    also="climate weather substrate akadama pumice kanuma lava soil mix recipe species frost hardiness schools cautions",
)  # fmt: skip
