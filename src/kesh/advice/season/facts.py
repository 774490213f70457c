"""What the records say of the seasons of a whole collection on a day: windows, what is due, strain. Found once, asked by all."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from kesh.advice.season.asking import as_answers, occurrence_of
from kesh.advice.season.due import Due, due_of
from kesh.advice.season.own_seasons import kin_signs, own_seasons
from kesh.advice.season.standing import Standing, standings
from kesh.advice.season.strain_ledger import Ledger, ledger
from kesh.base.once import once
from kesh.base.units import Units
from kesh.model import Answer, Brief, Collection, Habits, Planting, Task, Tree
from kesh.reference.tables import Species, Tables, tables
from kesh.science.season.learning import Learned, learned
from kesh.science.season.season import Own, Season, coming_season, season_at, year_at
from kesh.science.season.windows import Year

HEALTH_STOPS = ("weak", "sick")


@dataclass(frozen=True)
class TreeWindow:
    """A window of a tree: its name, its days, and how today lies to it."""

    tree: str
    season: Season
    status: str


@dataclass(frozen=True)
class Facts:
    """`today` is the day of all verdicts. Nothing here is kept in a file; it follows from the records."""

    c: Collection
    today: date
    u: Units = field(default_factory=Units)
    kept: dict[str, object] = field(default_factory=dict, compare=False, repr=False)

    @once
    def tables(self) -> Tables:
        """Species and substrates with the collection's own rows."""
        return tables(self.c.species_rows, self.c.substrate_rows)

    @once
    def habits(self) -> Habits:
        """How the user keeps the trees; defaults until it is written."""
        return self.c.habits or Habits()

    @once
    def now(self) -> Mapping[str, Planting]:
        """Where each tree stands, by tree; as `Collection.planting_of`, found in one pass."""
        found: dict[str, Planting] = {}
        for p in self.c.plantings:
            if p.ended is None and not p.planned and p.tree in self.c.trees:
                held = found.get(p.tree)
                if held is None or (p.date or date.min) > (held.date or date.min):
                    found[p.tree] = p
        return found

    @once
    def written(self) -> Mapping[str, Task]:
        """Tasks that stand in the records whole: the user's own, and those of lists and older files; none without its tree and pot."""
        return {
            t.id: t
            for t in self.c.tasks
            if t.tree in self.c.trees and (t.pot is None or t.pot in self.c.pots) and occurrence_of(t) is None
        }

    @once
    def said(self) -> Mapping[str, tuple[Answer, ...]]:
        """What was said of each task, by its key."""
        found: dict[str, list[Answer]] = {}
        for a in self.c.answers:
            if a.tree in self.c.trees:
                found.setdefault(a.task, []).append(a)
        return {task: tuple(rows) for task, rows in found.items()}

    @once
    def answers(self) -> Mapping[str, tuple[Answer, ...]]:
        """As `said`, with what tasks that were written down whole say of those that are worked out."""
        found = dict(self.said)
        for task in self.c.tasks:
            key = occurrence_of(task) or task.id
            old = as_answers(task if key == task.id else task.model_copy(update={"id": key}))
            if old and task.tree in self.c.trees:
                found[key] = (*old, *found.get(key, ()))
        return found

    def ended_by(self, tree: str, event: str) -> date | None:
        """The day of the repotting that came after an event of the log; None while it is the last one."""
        rows = [e for e in self.c.events_of(tree) if e.kind == "repotted" and e.date <= self.today]
        at = next((n for n, e in enumerate(rows) if e.id == event), None)
        return None if at is None or at + 1 >= len(rows) else rows[at + 1].date

    @once
    def planned(self) -> Mapping[str, Planting]:
        """The planting that is planned for a tree, by tree."""
        return {p.tree: p for p in self.c.plantings if p.planned and p.ended is None}

    def brief(self, tree: str) -> Brief:
        """A tree's brief, or a default one."""
        return self.c.briefs.get(tree) or Brief(id=tree)

    def species(self, tree: Tree) -> Species | None:
        """A tree's species row."""
        return self.tables.species.get(tree.species) if tree.species else None

    @once
    def owns(self) -> Mapping[str, Own]:
        """What is known of each tree's own seasons."""
        kin = kin_signs(self.c)
        return {t.id: own_seasons(self.c, t, self.brief(t.id), kin) for t in self.c.trees.values()}

    def year(self, tree: str) -> Year | None:
        """The year as a tree feels it; None without a climate."""
        return year_at(self.c.site, *self.owns[tree].housed)

    @once
    def windows(self) -> Mapping[str, TreeWindow]:
        """The window that holds or comes next, by tree; none where the species has none, or is not known."""
        found: dict[str, TreeWindow] = {}
        # trees of one species about which nothing else is known share their dates
        alike: dict[tuple[str, Own], tuple[Season | None, Season | None]] = {}
        for tree in self.c.trees.values():
            species, own = self.species(tree), self.owns[tree.id]
            key = (tree.species or "", own)
            if key not in alike:
                site = self.c.site
                alike[key] = (
                    coming_season(species, self.today, site, own),
                    season_at(species, self.today, site, own=own),
                )
            coming, here = alike[key]
            if coming is not None and here is not None:
                found[tree.id] = TreeWindow(tree.id, coming, here.status)
        return found

    @once
    def standings(self) -> Mapping[str, Standing]:
        """How full each pot is."""
        return standings(self.c, self.now, self.tables.species, self.today)

    @once
    def dues(self) -> Mapping[str, Due]:
        """When each tree is due."""
        found = {}
        for tree in self.c.trees.values():
            window = self.windows.get(tree.id)
            found[tree.id] = due_of(
                tree, self.brief(tree.id), self.species(tree), self.standings.get(tree.id),
                window.season if window is not None else None, self.today,
            )  # fmt: skip
        return found

    def ledger(self, tree: str, day: date | None = None) -> Ledger:
        """What weighs on a tree."""
        site = self.c.site
        return ledger(
            self.c.trees[tree], self.brief(tree), self.c.events_of(tree), day or self.today, self.year(tree),
            site.latitude_deg if site is not None else None,
        )  # fmt: skip

    @once
    def pace(self) -> Learned:
        """How much longer or shorter the user's repottings take than the plain reckoning, from those that were timed."""
        cases = []
        for event in self.c.events:
            planned = dict(event.planned).get("minutes") if event.minutes else None
            if event.kind == "repotted" and event.minutes and planned:
                cases.append(event.minutes / planned)
        return learned(1.0, cases)

    def target(self, tree: str) -> str | None:
        """The pot that is meant: chosen in the line-up, planned, or the present one."""
        lineup = self.c.lineups.get(tree)
        if lineup is not None and lineup.chosen in self.c.pots:
            return lineup.chosen
        planned, here = self.planned.get(tree), self.now.get(tree)
        if planned is not None and planned.pot in self.c.pots:
            return planned.pot
        return here.pot if here is not None and here.pot in self.c.pots else None

    def blocks(self, tree: str) -> tuple[str, ...]:
        """What stands in the way of a repotting that is due: pot, health, strain; each in a few words."""
        found = []
        one = self.c.trees[tree]
        if self.target(tree) is None:
            found.append("no pot chosen")
        if one.roots is not None and one.roots.health in HEALTH_STOPS:
            found.append(f"it is {one.roots.health}")
        book = self.ledger(tree)
        if book.total > book.limit > 0:
            found.append(f"strain {100 * book.total:.0f} of {100 * book.limit:.0f}")
        return tuple(found)
