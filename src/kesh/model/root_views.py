"""Where growers disagree on root work, and how this one goes about it."""

from typing import Literal

from kesh.model.base import Record

Amount = Literal["stages", "half", "saw", "all", "nothing"]


class RootViews(Record):
    """One side of each topic; none of them is Kesh's own.

    `amount`: in stages within the species' limit, half at once, a flat saw cut, all of it as of a cutting, or nothing now.
    `old_soil`: as the species usually takes it, washed out whole, or two opposite sides in turn. `plate`: radial, irregular,
    or as the school sees it. `top_work`: in another season, or on the same day in balance.
    """

    amount: Amount = "stages"
    old_soil: Literal["usual", "wash", "sides"] = "usual"
    tool: Literal["chopstick", "rake"] = "chopstick"
    seal: bool = False
    plate: Literal["school", "radial", "irregular"] = "school"
    top_work: Literal["apart", "same_day"] = "apart"
