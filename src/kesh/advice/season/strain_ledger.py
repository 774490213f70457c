"""What was done to a tree and still weighs on it, from its log."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from kesh.model import Brief, Event, Tree
from kesh.science.season.strain import (
    AILING,
    DEFOLIATED,
    FOLIAGE_HALF,
    MOVED,
    WIRED_MAIN,
    WIRED_TWIGS,
    Grows,
    Load,
    fits_on,
    left_of,
    limit_of,
    strain_on,
)
from kesh.science.season.windows import Year

# a work that has faded to this is not worth a word
FAINT = 0.005
WORDS = {
    "repotted": "roots", "root_work": "roots", "pruned": "cut", "wired": "wired", "moved": "moved", "defoliated": "leaves off", "ailing": "ill",
}  # fmt: skip


@dataclass(frozen=True)
class Ledger:
    """What weighs on a tree on a day: each work with what is left of it, the sum, what it bears, and what is not known."""

    day: date
    loads: tuple[Load, ...]
    left: tuple[tuple[Load, float], ...]
    total: float
    limit: float
    same_day: bool
    grows: Grows
    unknown: tuple[str, ...] = ()

    def with_work(self, share: float, day: date) -> float:
        """The sum on a day on which a work of such a share is done."""
        return strain_on([*self.loads, Load(day, share)], day, self.grows, same_day=self.same_day)

    def fits_from(self, share: float, first: date) -> date | None:
        """The first day from one on which such a work stays within what the tree bears; None where none does."""
        return fits_on(self.loads, share, first, self.limit, self.grows, same_day=self.same_day)


def load_of(event: Event) -> Load | None:
    """What one entry of the log cost; None for what costs nothing, and for root work whose share nobody wrote down."""
    if event.kind not in WORDS:
        return None
    figures = dict(event.figures)
    share = event.strain
    if share is None:
        cut = figures.get("foliage_share")
        share = {
            "repotted": figures.get("removed_feeder_share"), "root_work": figures.get("removed_feeder_share"),
            "pruned": None if cut is None else FOLIAGE_HALF * cut, "wired": WIRED_TWIGS if figures.get("twigs") else WIRED_MAIN,
            "moved": MOVED, "defoliated": DEFOLIATED, "ailing": AILING,
        }[event.kind]  # fmt: skip
    return None if share is None else Load(event.date, min(max(share, 0.0), 1.0), WORDS[event.kind], event.kind)


def ledger(
    tree: Tree, brief: Brief, log: Iterable[Event], day: date, year: Year | None, latitude_deg: float | None = None
) -> Ledger:
    """The ledger of a tree on a day, from its log."""
    grows = Grows(year, latitude_deg)
    loads, unknown = [], []
    for event in log:
        if event.date > day:
            continue
        load = load_of(event)
        if load is not None:
            loads.append(load)
        elif event.kind in WORDS and (day - event.date).days < 730:
            unknown.append(f"{WORDS[event.kind]} {event.date.isoformat()}: no share written down")
    same_day = brief.season_views.top == "same_day"
    left = [(load, left_of(load, day, grows)) for load in loads]
    health = tree.roots.health if tree.roots is not None else "normal"
    return Ledger(
        day, tuple(loads), tuple((load, now) for load, now in left if now >= FAINT), strain_on(loads, day, grows, same_day=same_day),
        limit_of(health), same_day, grows, tuple(unknown),
    )  # fmt: skip
