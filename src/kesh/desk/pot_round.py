"""Who gets which pot, without a window: the plan, what was struck out, and what accepting a move writes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from kesh.advice.case import case_for
from kesh.advice.season.asking import answer_to
from kesh.advice.season.book import Book
from kesh.advice.season.pot_round import Move, Plan, Stays, days_between
from kesh.base.words import counted
from kesh.desk.lineup import with_pot
from kesh.model import Collection, Lineup, Reservation, Task
from kesh.science.season.season import day_words
from kesh.store.collection_file import Change

# a freed pot that is there so few days before the window closes is cutting it fine [J]
FINE_DAYS = 7


@dataclass(frozen=True)
class MoveRow:
    """One move as it is shown: names, scores, days, and the words for when its pot comes free."""

    move: Move
    tree: str
    from_name: str
    to_name: str
    free_words: str
    tight: bool
    accepted: bool
    ends_words: str


def rows_of(book: Book, plan: Plan) -> tuple[MoveRow, ...]:
    """The moves in the order in which they are done."""
    c = book.c
    return tuple(
        MoveRow(
            m, c.trees[m.tree].name, c.pots[m.from_pot].name if m.from_pot in c.pots and m.from_pot is not None else "no pot", c.pots[m.to_pot].name,
            _free(book, plan, m), _tight(plan, m), accepted(c, m), _ends_words(book, m),
        )
        for m in plan.moves if m.tree in c.trees and m.to_pot in c.pots
    )  # fmt: skip


def _free(book: Book, plan: Plan, m: Move) -> str:
    if m.frees is None:
        order = book.c.orders.get(m.to_pot)
        if order is not None and order.promised is not None and book.c.pots[m.to_pot].state == "ordered":
            return f"promised for {day_words(order.promised)}"
        return "on the shelf"
    other = next((x for x in plan.moves if x.tree == m.frees), None)
    left = days_between(m, plan)
    name = book.c.trees[m.frees].name if m.frees in book.c.trees else m.frees
    if other is None or other.day is None or left is None:
        return f"when {name} is out"
    return f"after {name}, {counted(left, 'day')} to spare"


def _ends_words(book: Book, m: Move) -> str:
    """Why it moves: for whom, or what is wrong now and ends."""
    if m.room_for in book.c.trees and m.room_for is not None:
        return f"Makes room for {book.c.trees[m.room_for].name}"
    told = f"Wrong now: {m.why}" if m.why else ""
    return f"{told}. Takes {m.takes}" if told and m.takes else told or (f"Takes {m.takes}" if m.takes else "")


def _tight(plan: Plan, m: Move) -> bool:
    left = days_between(m, plan)
    return left is not None and left < FINE_DAYS


def title_of(plan: Plan) -> str:
    """What comes of it, in a line."""
    if not plan.trees:
        return "No tree is due, and every pot will do"
    if not plan.moves:
        return f"{counted(len(plan.stay), 'tree').capitalize()} stay: nothing is gained by moving"
    waits = f"; {counted(len(plan.unserved), 'tree')} without a pot that does" if plan.unserved else ""
    return f"{counted(len(plan.moves), 'tree').capitalize()} move{'s' if len(plan.moves) == 1 else ''}{waits}"


def accepted(c: Collection, m: Move) -> bool:
    """Whether a move was taken on: its pot is chosen for its tree."""
    lineup = c.lineups.get(m.tree)
    return lineup is not None and lineup.chosen == m.to_pot


def accept(book: Book, moves: Sequence[Move]) -> list[Change]:
    """The pots chosen and kept for their trees, the repottings laid for the first day each can be done. Raises KeshError."""
    c = book.c
    changes: list[Change] = []
    for m in moves:
        tree, pot = c.trees[m.tree], c.pots[m.to_pot]
        case = case_for(c, m.tree, today=book.today)
        lineup = with_pot(c.lineups.get(m.tree) or Lineup(id=tree.id), case, pot)
        changes.append(("lineup", tree.id, lineup.changed(chosen=pot.id)))
        changes.append(
            ("pot", pot.id, pot.changed(reserved=Reservation(tree=tree.id, season=season_words(m.first or book.today))))
        )
        if m.first is not None and m.last is not None:
            # the repotting itself follows from the pot that is chosen; only a day of its own is kept
            day = m.day if m.frees is not None else None
            if day is not None:
                task = Task.made(
                    id=f"repot-{tree.id}-{m.first.year}", tree=tree.id, kind="repot", to=m.last, **{"from": m.first}
                )
                said = answer_to(task, "moved", book.today, to=day)
                changes.append(("answer", said.id, said))
    return changes


def season_words(day: date) -> str:
    """The year a pot is kept for."""
    return f"{day.year}"


def stays_words(book: Book, s: Stays) -> str:
    """A line under a tree that stays."""
    if s.score is None:
        return s.why
    best = f"; next best {s.best_score:.0f}" if s.best_score is not None else ""
    return f"{s.score:.0f} of 100{best}"
