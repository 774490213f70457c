"""Every kind of record as one row: where it stands in a collection, in the file and in a bundle."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from kesh.model.answer import Answer, CalendarEntry
from kesh.model.base import Record
from kesh.model.brief import Brief
from kesh.model.events import Event, Lineup, Override, Rejection
from kesh.model.habits import HABITS, Habits
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


@dataclass(frozen=True)
class Kind:
    """`key` names it in the collection file, `field` in a collection, `bundle` in a bundle.

    `listed` kinds are kept in a tuple in their order, of a `single` one there is one or none, the others are kept by id. A kind without a record class holds plain rows
    that are laid over the reference tables, by their `key` column.
    """

    key: str
    record: type[Record] | None
    field: str
    bundle: str
    listed: bool = False
    single: bool = False


KINDS: Mapping[str, Kind] = MappingProxyType(
    {
        kind.key: kind
        for kind in (
            Kind("site", Site, "site", "site", single=True),
            Kind(HABITS, Habits, HABITS, HABITS, single=True),
            Kind("tree", Tree, "trees", "trees"),
            Kind("pot", Pot, "pots", "pots"),
            Kind("mix", Mix, "mixes", "mixes"),
            Kind("planting", Planting, "plantings", "plantings", listed=True),
            Kind("brief", Brief, "briefs", "briefs"),
            Kind("event", Event, "events", "events", listed=True),
            Kind("rejection", Rejection, "rejections", "rejections", listed=True),
            Kind("override", Override, "overrides", "overrides", listed=True),
            Kind("lineup", Lineup, "lineups", "lineups"),
            Kind("reading", Reading, "readings", "readings", listed=True),
            Kind("task", Task, "tasks", "tasks", listed=True),
            Kind("answer", Answer, "answers", "answers", listed=True),
            Kind("calendar", CalendarEntry, "calendar", "calendar"),
            Kind("order", Order, "orders", "orders"),
            Kind("stock", Stock, "stock", "stock"),
            Kind("work", Work, "works", "works"),
            Kind("photo", TreePhoto, "photos", "photos"),
            Kind("species_row", None, "species_rows", "species", listed=True),
            Kind("substrate_row", None, "substrate_rows", "substrates", listed=True),
        )
    }
)
