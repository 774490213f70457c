"""Taking a lens's bow out of a photograph, or leaving it in: every mark goes along."""

import numpy as np

from kesh.model import TreePhoto
from kesh.photo.lens import Bow, bent, corner_share, straight
from kesh.photo.read import WIDE_WORDS

Spots = tuple[tuple[float, float], ...]


def with_bow(photo: TreePhoto, bow: float, size: tuple[int, int]) -> TreePhoto:
    """The photograph with another bow taken out (0 for as it was taken), its marks where they lie then.

    `size` is the picture's own, px. Raises FieldError for a bow that no lens has.
    """

    def along(spots: Spots) -> Spots:
        if not spots:
            return spots
        moved = straight(bent(np.array(spots, float), photo.bow, size), bow, size)
        return tuple((round(float(x), 1), round(float(y), 1)) for x, y in moved)

    def one(name: str) -> tuple[float, float] | None:
        spot = getattr(photo, name)
        return None if spot is None else along((spot,))[0]

    return photo.changed(
        bow=bow, soil=one("soil"), apex=one("apex"), marker=one("marker"), loop=along(photo.loop),
        known=None if photo.known is None else along(photo.known),
        card=None if photo.card is None else along(photo.card),
        trunk=tuple(g.changed(at=along((g.at,))[0]) for g in photo.trunk),
        colours=tuple(c.changed(at=along((c.at,))[0]) for c in photo.colours),
        strokes=tuple(s.changed(points=along(s.points)) for s in photo.strokes),
    )  # fmt: skip


def lens_words(photo: TreePhoto, bow: Bow | None, notes: tuple[str, ...] = ()) -> tuple[str, str]:
    """(sentence on the lens, what a click does); both empty when there is nothing to say.

    `notes` are those of the picture's file, which may tell of a very wide lens where no card does.
    """
    if photo.bow:
        return (
            f"Straightened: lines bowed by {abs(corner_share(photo.bow)):.1%} at the corners.",
            "Leave it as it was taken",
        )
    if bow is None or not bow.seen:
        told = next((note for note in notes if WIDE_WORDS in note), "")
        return (f"{told[0].upper()}{told[1:]}." if told else ""), ""
    most = abs(corner_share(bow.value))
    return (
        f"A wide lens: the card's edges bow by {bow.edge_px:.1f} px, lengths at the corners are off by {most:.1%}.",
        "Straighten the picture",
    )
