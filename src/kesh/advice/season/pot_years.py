"""Pots over the years ahead for one tree: how each would suit it as it grows, and the run of pots that costs least."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.advice.season.book import Book
from kesh.advice.season.due import interval_years
from kesh.advice.season.life import KEPT_FIELDS, Life
from kesh.base.errors import FieldError
from kesh.base.status import NO, UNKNOWN
from kesh.model import Measure, Pot, Purpose, Tree
from kesh.science.season.growth import grown
from kesh.science.season.pot_path import MOST_YEARS, PotPath, pot_path

# so many pots are weighed, those that suit best in some year; years a pot of the view with room is judged ahead [J]
MOST_POTS, ROOM_YEARS, HORIZON_YEARS = 14, 2.0, 8
# points that one unit of money weighs [J]
PRICE_POINTS = 0.1
THICKEN_SHARE = 0.5
TRAINING = frozenset({"collected", "growing_on", "developing"})


@dataclass(frozen=True)
class PotYears:
    """The run of pots year by year, the tree as large as it is then, and the points each year."""

    years: tuple[int, ...]
    pots: tuple[Pot, ...]
    path: PotPath
    trees: tuple[Tree, ...]
    scores: tuple[float | None, ...]
    prices: tuple[float, ...]
    assumed: str

    @property
    def next_move(self) -> tuple[int, Pot] | None:
        """(year, pot) of the first move; None where it stays."""
        first = next(iter(self.path.moves), None)
        return None if first is None else (self.years[first], self.pots[self.path.pots[first]])

    def stays(self) -> tuple[tuple[int, int, Pot], ...]:
        """(first index, last index, pot) of each stay."""
        found: list[tuple[int, int, Pot]] = []
        for n, k in enumerate(self.path.pots):
            if found and found[-1][2].id == self.pots[k].id:
                found[-1] = found[-1][0], n, self.pots[k]
            else:
                found.append((n, n, self.pots[k]))
        return tuple(found)


def size_after(life: Life, years: float) -> Measure:
    """The measures after some years: the usual growth of the stage, height and trunk as they were seen to grow."""
    m = grown(life.tree.measure, life.tree.stage, years)
    seen = {}
    for field in KEPT_FIELDS:
        series = life.heights if field == "height_mm" else life.trunks
        if series.growth is not None and getattr(m, field) is not None:
            seen[field] = round(series.growth.at(years), 1)
    return m.changed(**seen)


def pot_years(
    book: Book, tree_id: str, horizon: int | None = None, tick: Callable[[float], None] | None = None
) -> PotYears:
    """The cheapest run of pots for a tree. Raises FieldError for an unknown tree, and where no pot can be judged."""
    tree = book.c.trees.get(tree_id)
    if tree is None:
        raise FieldError("tree", f"no tree '{tree_id}'")
    brief = book.brief(tree_id)
    years = min(max(int(brief.horizon_years or HORIZON_YEARS) if horizon is None else horizon, 1), MOST_YEARS)
    pots = _pots(book, tree_id)
    if not pots:
        raise FieldError("pots", "there is no pot to weigh: add one on the shelf, wish for one or design one")
    life = Life(book, tree)
    views = brief.season_views
    ahead = ROOM_YEARS if views.size == "room" else 0.0
    trees, misfit = [], np.full((years + 1, len(pots)), np.inf)
    for n in range(years + 1):
        if tick is not None:
            tick(0.95 * n / (years + 1))
        then = tree.changed(measures=(size_after(life, float(n)),))
        trees.append(then)
        judged = tree.changed(measures=(size_after(life, n + ahead),)) if ahead else then
        purpose = brief.purpose
        if views.pot_when == "thicken" and tree.stage in TRAINING and n < THICKEN_SHARE * years:
            purpose = Purpose.GROW_ON
        misfit[n] = _misfit(book, judged, pots, purpose)
    here = book.now.get(tree_id)
    start = next((k for k, p in enumerate(pots) if here is not None and p.id == here.pot), -1)
    keep = _best(misfit, start)
    kept = [pots[k] for k in keep]
    table = misfit[:, keep]
    if start >= 0:
        # staying is always possible, at what it costs
        table[:, keep.index(start)] = np.where(
            np.isfinite(table[:, keep.index(start)]), table[:, keep.index(start)], 100.0
        )
    prices = np.array([_price(book, p) for p in kept])
    interval = interval_years(tree, book.species(tree))
    least = max(int(np.ceil(interval[0])), 1) if interval is not None else 2
    standing = book.standings.get(tree_id)
    since = (
        int((book.today - standing.last).days / 365.25) if standing is not None and standing.last is not None else least
    )
    path = pot_path(table, prices, keep.index(start) if start >= 0 else -1, since, least, price_weight=PRICE_POINTS)
    scores = tuple(
        float(100 - table[n, k]) if np.isfinite(table[n, k]) and table[n, k] < 100 else None for n, k in enumerate(path.pots)
    )  # fmt: skip
    first = _first_year(book, tree_id)
    return PotYears(
        tuple(first + n for n in range(years + 1)), tuple(kept), path, tuple(trees), scores, tuple(float(v) for v in prices),
        "" if interval is not None else "the species' interval is not known: two years taken",
    )  # fmt: skip


def _first_year(book: Book, tree: str) -> int:
    """The year of the window that is open or comes next; else of today."""
    window = book.windows.get(tree)
    return window.season.first.year if window is not None and window.season.first is not None else book.today.year


def _pots(book: Book, tree: str) -> tuple[Pot, ...]:
    """Pots that may serve: free, wished for, designed or ordered, and the present one."""
    here = book.now.get(tree)
    held = {p.pot for t, p in book.now.items() if t != tree}
    out = {r.pot for r in book.c.rejections if r.tree == tree}
    found = []
    for pot in sorted(book.c.pots.values(), key=lambda p: p.id):
        mine = here is not None and pot.id == here.pot
        kept = pot.reserved is not None and pot.reserved.tree != tree
        for_other = pot.made_for is not None and pot.made_for != tree
        busy = pot.state == "in_use" and not mine
        if mine or not (pot.id in held or pot.id in out or kept or for_other or busy):
            found.append(pot)
    return tuple(found)


def _misfit(book: Book, tree: Tree, pots: tuple[Pot, ...], purpose: Purpose) -> np.ndarray:
    c = replace(book.c, trees=dict(book.c.trees) | {tree.id: tree})
    case = case_for(c, tree.id, today=book.today)
    case = replace(
        case,
        taken={},
        rejected={},
        kept_for={},
        trials={},
        planting=None,
        season="best",
        brief=case.brief.changed(purpose=purpose),
    )
    found = rank(case, pots)
    return np.where(
        (found.verdict == NO) | (found.verdict == UNKNOWN) | found.figures.faulty, np.inf, 100 - 100 * found.score
    )


def _best(misfit: np.ndarray, start: int) -> list[int]:
    """The pots worth weighing: the best few of each year, and the present one, in their own order."""
    keep: set[int] = {start} if start >= 0 else set()
    ranked = np.argsort(np.where(np.isfinite(misfit), misfit, 1e9), axis=1, kind="stable")
    for place in range(misfit.shape[1]):
        for n in range(len(misfit)):
            if len(keep) < MOST_POTS and np.isfinite(misfit[n, ranked[n, place]]):
                keep.add(int(ranked[n, place]))
    return sorted(keep)


def _price(book: Book, pot: Pot) -> float:
    """What it would cost to have it; nothing for one that is on the shelf."""
    if pot.state in ("shelf", "in_use"):
        return 0.0
    order = book.c.orders.get(pot.id)
    return float(pot.price or (order.price if order is not None and order.price is not None else 0.0))
