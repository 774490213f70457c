"""Who gets which pot: the moves of the coming season over the whole bench, as chains, with what each gains."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from kesh.advice.answers import question_of
from kesh.advice.case import Case, case_for
from kesh.advice.rank import Ranking, rank
from kesh.advice.roots.this_year import this_year
from kesh.advice.season.book import Book
from kesh.base.errors import FieldError, KeshError
from kesh.base.status import FITS, NO, UNKNOWN, WATCH
from kesh.geometry.outline import Floats
from kesh.model import Pot
from kesh.science.season.assign import ANY_FIRST, ANY_LAST, Shared, share_pots

# points that a no which the artist keeps costs, and the score under which a pot is not worth the work [J]
KEPT_NO, ASKED = 40.0, 60.0
# points that a move must gain unless it ends a no, and that it costs to move a tree that fits where it stands [J]
LEAST_GAIN, FITS_COST = 4.0, 10.0
Tick = Callable[[float], None]


@dataclass(frozen=True)
class Move:
    """A tree from one pot (None: it has none) to another, what it gains in points of 100, and between which days.

    `frees` is the tree whose pot it takes, `day` the earliest day. `room_for` is the tree for whose sake alone it moves:
    it would do as well where it is.
    """

    tree: str
    from_pot: str | None
    to_pot: str
    score_before: float | None
    score_after: float
    first: date | None
    last: date | None
    day: date | None
    frees: str | None
    why: str
    best_words: str
    room_for: str | None = None
    # what the move takes of the tree
    takes: str = ""

    @property
    def gain(self) -> float:
        """Points of 100."""
        return self.score_after - (self.score_before or 0.0)


@dataclass(frozen=True)
class Stays:
    """A tree that stays, with its score, and the best that another pot would bring."""

    tree: str
    pot: str | None
    score: float | None
    best_pot: str | None
    best_score: float | None
    served: bool
    why: str


@dataclass(frozen=True)
class Plan:
    """The moves in the order in which they are done, who stays, who is not served, and the costs it rests on."""

    moves: tuple[Move, ...]
    stay: tuple[Stays, ...]
    total: float
    cost: float
    trees: tuple[str, ...]
    pots: tuple[str, ...]
    costs: Floats
    stay_costs: Floats

    @property
    def gain(self) -> float:
        """Points that all moves gain together."""
        return sum(m.gain for m in self.moves)

    @property
    def unserved(self) -> tuple[Stays, ...]:
        """Trees whose pot will not do and for whom there is no other."""
        return tuple(s for s in self.stay if not s.served)

    def chain_of(self, tree: str) -> tuple[Move, ...]:
        """The moves that must be done before a tree's own, in order, with its own last."""
        by_tree = {m.tree: m for m in self.moves}
        found: list[Move] = []
        at = by_tree.get(tree)
        while at is not None and at not in found:
            found.append(at)
            at = by_tree.get(at.frees) if at.frees is not None else None
        return tuple(reversed(found))


def spring_plan(
    book: Book, *, school: str | None = None, mix: str | None = None, refused: Sequence[tuple[str, str]] = (),
    fixed: Sequence[tuple[str, str]] = (), tick: Tick | None = None,
) -> Plan:  # fmt: skip
    """The plan of the whole bench. `refused` are (tree, pot) that the user struck out; `fixed` those kept by hand.

    Trees and pots are taken in the order of their ids, so the same records give the same plan. Raises KeshError for a
    school or a mix that is not there.
    """
    c = book.c
    pots = tuple(sorted((p for p in c.pots.values() if _may(book, p)), key=lambda p: p.id))
    judged = {}
    names = sorted(c.trees)
    for n, tree in enumerate(names):
        if tick is not None:
            tick(0.9 * n / max(len(names), 1))
        one = _judged(book, tree, pots, school, mix)
        if one is not None:
            judged[tree] = one
    rows = [
        t for t in names
        if t in judged and not _kept(book, t) and (book.dues[t].now or t not in book.now or judged[t].present_no)
    ]  # fmt: skip
    held = {book.now[t].pot: t for t in names if t in book.now}
    columns = [k for k, p in enumerate(pots) if held.get(p.id) is None or held[p.id] in rows]
    cost, stay = _costs(book, rows, pots, columns, judged, refused, fixed)
    at = {pots[k].id: n for n, k in enumerate(columns)}
    holds = [at.get(book.now[t].pot, -1) if t in book.now else -1 for t in rows]
    shared = share_pots(cost, stay, holds, [_window(book, t) for t in rows], tick=tick)
    moves, stays = _told(book, rows, pots, columns, judged, cost, stay, shared)
    return Plan(
        moves, stays, sum(m.gain for m in moves), shared.total, tuple(rows), tuple(pots[k].id for k in columns), cost, stay
    )  # fmt: skip


def _kept(book: Book, tree: str) -> bool:
    """Whether a tree stands as a planting of a chosen kind: rock, tube or slab leave with the tree, no pot of the bench is asked."""
    return tree in book.now and book.now[tree].kind is not None


@dataclass(frozen=True)
class _Judged:
    ranking: Ranking
    score: Floats
    no: np.ndarray
    unknown: np.ndarray
    kept_no: np.ndarray
    share: Floats
    present: int | None

    @property
    def present_no(self) -> bool:
        return self.present is not None and bool(self.no[self.present])

    @property
    def present_fits(self) -> bool:
        return self.present is not None and int(self.ranking.verdict[self.present]) == FITS

    def takes(self, pot: int) -> str:
        """What a pot takes of the tree, in words: its share of the feeders, and in how many repottings."""
        year = this_year(self.ranking.figures, pot)
        if year is None:
            return "what comes off its roots is not known"
        if year.whole_share < 0.005:
            return "nothing comes off its roots"
        told = f"{year.whole_share:.0%} of its feeders"
        return f"{told}, in {year.repottings} repottings" if year.repottings > 1 else told


def _may(book: Book, pot: Pot) -> bool:
    """Whether a pot is there, or will be."""
    if pot.state == "shelf":
        return True
    if pot.state == "in_use":
        # something nobody wrote down may stand in a pot that is in use and holds none of the trees
        return any(p.pot == pot.id for p in book.now.values())
    order = book.c.orders.get(pot.id)
    return (
        pot.state == "ordered"
        and order is not None
        and order.promised is not None
        and order.status not in ("off", "here")
    )


def _case(book: Book, tree: str, school: str | None, mix: str | None) -> Case:
    """The case on the first day of the coming window. What stands in a pot now is no hindrance: it may be out by then."""
    window = book.windows.get(tree)
    day = window.season.first if window is not None and window.season.first is not None else book.today
    case = case_for(book.c, tree, school_id=school, mix_id=mix, on=max(day, book.today))
    return replace(case, taken={}, rejected={}, kept_for={}, trials={}, planting=None)


def _judged(book: Book, tree: str, pots: tuple[Pot, ...], school: str | None, mix: str | None) -> _Judged | None:
    if not pots:
        return None
    try:
        found = rank(_case(book, tree, school, mix), pots)
        score = 100 * found.score
    except FieldError as err:
        if err.field in ("school", "mix"):
            raise
        return None
    except KeshError:
        return None
    counted = [(rule, result) for rule, result in found.checks if rule.code not in ("season", "before_lift")]
    kept = [
        result.status == WATCH
        for rule, result in counted
        if question_of(rule.code) in ("lives", "work") and rule.code in found.figures.case.overrides
    ]
    roots = found.figures.roots
    here = book.now.get(tree)
    index = {p.id: n for n, p in enumerate(pots)}
    return _Judged(
        found, score, found.verdict == NO, (found.verdict == UNKNOWN) | found.figures.faulty, sum(kept, np.zeros(len(pots))),
        np.zeros(len(pots)) if roots is None else np.broadcast_to(roots.removed_feeder_share, (len(pots),)), index.get(here.pot) if here is not None else None,
    )  # fmt: skip


def _costs(
    book: Book, rows: list[str], pots: tuple[Pot, ...], columns: list[int], judged: Mapping[str, _Judged],
    refused: Sequence[tuple[str, str]], fixed: Sequence[tuple[str, str]],
) -> tuple[Floats, Floats]:  # fmt: skip
    """(cost of each pairing, cost of staying): 100 less the score, a no kept by hand dearer, no and unknown never.

    A tree that is not due would be worked on for the pot's sake alone: the feeders that takes are added, which staying saves.
    """
    out = {(r.tree, r.pot) for r in book.c.rejections} | set(refused)
    cost, stay = np.full((len(rows), len(columns)), np.inf), np.full(len(rows), 100.0)
    for i, tree in enumerate(rows):
        one, window = judged[tree], _window(book, tree)
        value = 100 - one.score + KEPT_NO * one.kept_no + (0.0 if book.dues[tree].now else 100 * one.share)
        value = np.where(one.no | one.unknown, np.inf, value)
        for n, k in enumerate(columns):
            pot = pots[k]
            other = pot.reserved is not None and pot.reserved.tree != tree
            late = pot.state == "ordered" and not _in_time(book, pot, tree, window)
            if not other and not late and (tree, pot.id) not in out:
                cost[i, n] = value[k]
        if one.present is not None:
            stay[i] = 100 - one.score[one.present]
            # what stands well is left alone: to move it must gain something, and more where it fits
            asked = (0.0 if one.present_no else LEAST_GAIN) + (FITS_COST if one.present_fits else 0.0)
            own = columns.index(one.present) if one.present in columns else -1
            cost[i] = np.where(np.arange(len(columns)) == own, cost[i], cost[i] + asked)
        wished = [pot for t, pot in fixed if t == tree]
        if wished:
            keep = [n for n, k in enumerate(columns) if pots[k].id in wished]
            only = np.full(len(columns), np.inf)
            only[keep] = -1e4
            cost[i] = only
    return cost, stay


def _in_time(book: Book, pot: Pot, tree: str, window: tuple[int, int]) -> bool:
    """A pot on order serves the tree it is made or kept for, when it is promised before the window closes."""
    order = book.c.orders.get(pot.id)
    mine = pot.made_for == tree or (pot.reserved is not None and pot.reserved.tree == tree)
    return mine and order is not None and order.promised is not None and order.promised.toordinal() <= window[1]


def _window(book: Book, tree: str) -> tuple[int, int]:
    """First and last day of a tree's coming window as numbers; any day where none is known."""
    window = book.windows.get(tree)
    if window is None or window.season.first is None or window.season.last is None:
        return ANY_FIRST, ANY_LAST
    return max(window.season.first, book.today).toordinal(), window.season.last.toordinal()


def _told(
    book: Book, rows: list[str], pots: tuple[Pot, ...], columns: list[int], judged: Mapping[str, _Judged], cost: Floats, stay: Floats,
    shared: Shared,
) -> tuple[tuple[Move, ...], tuple[Stays, ...]]:  # fmt: skip
    held = {book.now[t].pot: t for t in rows if t in book.now}
    moves, stays = [], []
    for i, tree in enumerate(rows):
        one, picked = judged[tree], shared.pot_of[i]
        here = book.now.get(tree)
        before = None if one.present is None else float(one.score[one.present])
        window = book.windows.get(tree)
        if picked < 0:
            best = int(np.argmin(cost[i])) if cost.shape[1] and np.isfinite(cost[i]).any() else None
            served = here is not None and not one.present_no and one.present is not None
            stays.append(
                Stays(
                    tree, here.pot if here is not None else None, before, pots[columns[best]].id if best is not None else None,
                    float(one.score[columns[best]]) if best is not None else None, served, _why_not(one, served, best is not None),
                )
            )  # fmt: skip
            continue
        k, day = columns[picked], shared.days[i]
        entry = one.ranking.entry_of(k)
        moves.append(
            Move(
                tree, here.pot if here is not None else None, pots[k].id, before, float(one.score[k]),
                window.season.first if window is not None else None, window.season.last if window is not None else None,
                date.fromordinal(day) if day is not None and 0 < day < ANY_LAST else None, held.get(pots[k].id), _ends(one), entry.reason, takes=one.takes(k),
            )
        )  # fmt: skip
    for tree in sorted(book.c.trees):
        if tree not in rows and tree in book.now:
            known = judged.get(tree)
            at = None if known is None or known.present is None else float(known.score[known.present])
            stays.append(
                Stays(
                    tree,
                    book.now[tree].pot,
                    at,
                    None,
                    None,
                    True,
                    "planted in its own way: ask it for itself" if _kept(book, tree) else "not due",
                )
            )
    takers = {m.frees: m.tree for m in moves if m.frees is not None}
    # its own cost, not its score: what staying saves is counted too
    gains = {tree: cost[i, shared.pot_of[i]] < stay[i] for i, tree in enumerate(rows) if shared.pot_of[i] >= 0}
    moves = [m if gains[m.tree] else replace(m, room_for=takers.get(m.tree)) for m in moves]
    moves.sort(key=lambda m: (m.day or date.max, m.tree))
    return tuple(_in_order(moves)), tuple(stays)


def _in_order(moves: list[Move]) -> list[Move]:
    """By day, and on one day the one that frees a pot before the one that takes it."""
    found: list[Move] = []
    left = list(moves)
    while left:
        waiting = {m.tree for m in left}
        at = next((m for m in left if m.frees is None or m.frees not in waiting or m.frees == m.tree), left[0])
        left.remove(at)
        found.append(at)
    return found


def _ends(one: _Judged) -> str:
    """What is wrong with the present pot and ends with the move."""
    if one.present is None:
        return ""
    entry = one.ranking.entry_of(one.present)
    return "" if entry.verdict == "fits" else entry.reason


def _why_not(one: _Judged, served: bool, some: bool) -> str:
    if served:
        return "gains nothing by moving" if some else "no other pot does"
    if one.unknown.all():
        entry = one.ranking.entry_of(0)
        return f"nothing can be said: {entry.reason}"
    return "another tree gains more by the pot" if some else "no pot here does"


def days_between(move: Move, plan: Plan) -> int | None:
    """Days from when the pot is free to the last day it can be used; None where it stands on the shelf."""
    free = next((m.day for m in plan.moves if m.tree == move.frees), None)
    return None if free is None or move.last is None else (move.last - free) // timedelta(days=1)
