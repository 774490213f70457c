"""Everything in one file."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from kesh.base.once import once
from kesh.model.answer import Answer, CalendarEntry
from kesh.model.brief import Brief
from kesh.model.events import Event, Lineup, Override, Rejection
from kesh.model.habits import Habits
from kesh.model.mix import Mix
from kesh.model.order import Order
from kesh.model.photo import TreePhoto
from kesh.model.planting import Planting
from kesh.model.pot import Pot
from kesh.model.reading import Reading
from kesh.model.site import Site
from kesh.model.stock import Stock
from kesh.model.task import Task
from kesh.model.tree import Tree
from kesh.model.work import Work

AnyRecord = (
    Tree
    | Pot
    | Mix
    | Planting
    | Brief
    | Event
    | Rejection
    | Override
    | Lineup
    | TreePhoto
    | Reading
    | Site
    | Stock
    | Task
    | Answer
    | CalendarEntry
    | Work
    | Habits
    | Order
)


@dataclass(frozen=True)
class Collection:
    """A snapshot of all records by kind and id, and rows that override the reference tables."""

    name: str = "Collection"
    site: Site | None = None
    habits: Habits | None = None
    trees: Mapping[str, Tree] = field(default_factory=dict)
    pots: Mapping[str, Pot] = field(default_factory=dict)
    mixes: Mapping[str, Mix] = field(default_factory=dict)
    plantings: tuple[Planting, ...] = ()
    briefs: Mapping[str, Brief] = field(default_factory=dict)
    events: tuple[Event, ...] = ()
    rejections: tuple[Rejection, ...] = ()
    overrides: tuple[Override, ...] = ()
    lineups: Mapping[str, Lineup] = field(default_factory=dict)
    readings: tuple[Reading, ...] = ()
    tasks: tuple[Task, ...] = ()
    answers: tuple[Answer, ...] = ()
    calendar: Mapping[str, CalendarEntry] = field(default_factory=dict)
    stock: Mapping[str, Stock] = field(default_factory=dict)
    orders: Mapping[str, Order] = field(default_factory=dict)
    works: Mapping[str, Work] = field(default_factory=dict)
    photos: Mapping[str, TreePhoto] = field(default_factory=dict)
    substrate_rows: tuple[Mapping[str, Any], ...] = ()
    species_rows: tuple[Mapping[str, Any], ...] = ()

    def photos_of(self, tree: str) -> tuple[TreePhoto, ...]:
        """A tree's photographs: the front first, then round by angle, then those from above."""
        found = [p for p in self.photos.values() if p.tree == tree]
        return tuple(sorted(found, key=lambda p: (p.view == "above", not p.front, p.angle_deg, p.id)))

    def sides_of(self, tree: str) -> tuple[TreePhoto, ...]:
        """A tree's photographs from the side, the front first."""
        return tuple(p for p in self.photos_of(tree) if p.view == "side")

    def above_of(self, tree: str) -> TreePhoto | None:
        """The latest photograph of a tree's roots from above."""
        found = [p for p in self.photos_of(tree) if p.view == "above"]
        return max(found, key=lambda p: p.taken.toordinal() if p.taken else 0, default=None)

    def photo_of(self, tree: str, photo: str) -> TreePhoto | None:
        """One photograph of a tree by its id, its front or first one where there is none of that id."""
        photos = self.photos_of(tree)
        return next((p for p in photos if p.id == photo), photos[0] if photos else None)

    def readings_of(self, tree: str) -> tuple[Reading, ...]:
        """A tree's readings, the oldest first."""
        return tuple(sorted((r for r in self.readings if r.tree == tree), key=lambda r: (r.at, r.id)))

    def events_of(self, tree: str) -> tuple[Event, ...]:
        """A tree's log, the oldest first; what happened on one day stays in its order."""
        return self.log.get(tree, ())

    @once
    def log(self) -> Mapping[str, tuple[Event, ...]]:
        """The log by tree, each the oldest first."""
        found: dict[str, list[Event]] = {}
        for event in self.events:
            found.setdefault(event.tree, []).append(event)
        return {tree: tuple(sorted(rows, key=lambda e: e.date)) for tree, rows in found.items()}

    @once
    def settled(self) -> tuple[float, ...]:
        """How far soil sank at each repotting of which that was written down, as shares."""
        return tuple(value for event in self.events for name, value in event.figures if name == "settling")

    def planting_of(self, tree: str, pot: str | None = None) -> Planting | None:
        """The planting that holds now (latest date, not ended) for a tree, or for this tree in this pot.

        One that is only planned holds nowhere; in its own pot it speaks where the tree does not stand there yet.
        """
        found = [p for p in self.plantings if p.tree == tree and p.ended is None and pot in (None, p.pot)]
        standing = [p for p in found if not p.planned]
        held = standing or (found if pot is not None else [])
        return max(held, key=lambda p: p.date.toordinal() if p.date else 0, default=None)

    def others_in(self, pot: str, tree: str) -> tuple[Planting, ...]:
        """Plantings of other trees that stand in a pot now."""
        held = (p for p in self.plantings if p.pot == pot and p.ended is None and not p.planned and p.tree != tree)
        return tuple(p for p in held if p.tree in self.trees and self.planting_of(p.tree) == p)
