"""Where growers disagree on seasons and what follows, and how this one goes about it."""

from typing import Literal

from kesh.model.base import Record


class SeasonViews(Record):
    """One side of each topic; none of them is Kesh's own.

    `timing`: before the leaf in the species' best window, or later in its second one, with growth begun. `shade`: about a
    week, the weeks of the table and then half sun, or until a sign of growth. `leaves`: tropicals are stripped before root
    work, or kept. `top`: top work and root work in separate seasons, or on one day in balance. `pot_when`: into a small pot
    early, or thickened first. `size`: with room to grow into, or exact. `due`: by how full the
    pot is, or by the years its species is given. Feeding at potting is a view of the planting.
    """

    timing: Literal["early", "late"] = "early"
    shade: Literal["week", "weeks", "sign"] = "weeks"
    leaves: Literal["keep", "strip"] = "keep"
    top: Literal["apart", "same_day"] = "apart"
    pot_when: Literal["early", "thicken"] = "early"
    size: Literal["room", "exact"] = "room"
    due: Literal["fill", "years"] = "fill"
