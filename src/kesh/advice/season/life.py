"""The life of one tree along time: the pots it stood in, how it grew and will, how full its pots were, what was done."""

from dataclasses import dataclass, replace
from datetime import date

from kesh.advice.case import case_for
from kesh.advice.season.book import Book
from kesh.advice.season.standing import KEPT_SHARE, soils_l
from kesh.base.once import once
from kesh.model import Event, Measure, Planting, Pot, Tree
from kesh.reference.tables import care_classes
from kesh.science.roots.filling import BOUND, DAYS_YEAR, Filling, filling, filling_rate, first_filling
from kesh.science.season.days import later
from kesh.science.season.growth import grown
from kesh.science.season.growth_fit import Growth, growth_seen
from kesh.science.stand.stability import crown_area_m2

AHEAD_YEARS, NEAR_DAYS = 3, 550
KEPT_FIELDS = ("height_mm", "trunk_diameter_mm")
SIZES = (
    "height_mm",
    "canopy_left_mm",
    "canopy_right_mm",
    "canopy_front_mm",
    "canopy_back_mm",
    "crown_base_mm",
    "drop_mm",
    "apex_offset_mm",
)
THICK = ("trunk_diameter_mm", "trunk_at_soil_mm", "trunk_mid_mm", "flare_width_mm")


@dataclass(frozen=True)
class Stand:
    """The tree in one pot of its life: since when, until when (None: now), and the tree as large as it was then.

    `measured` is whether somebody had measured it about then; else its size lies on the line between measures.
    """

    planting: Planting
    pot: Pot
    first: date
    last: date | None
    tree: Tree
    measured: bool


@dataclass(frozen=True)
class Series:
    """One measure along time: (day, value), and what comes of it if it goes on as it went."""

    field: str
    points: tuple[tuple[date, float], ...]
    growth: Growth | None

    def at(self, day: date) -> float | None:
        """The value on a day between the first and the last measure; None outside."""
        before = [p for p in self.points if p[0] <= day]
        after = [p for p in self.points if p[0] >= day]
        if not before or not after:
            return None
        (a, va), (b, vb) = before[-1], after[0]
        return va if a == b else va + (vb - va) * (day - a).days / (b - a).days

    def ahead(self, years: float) -> tuple[float, tuple[float, float] | None] | None:
        """(size, band of eight in ten) so many years after the last measure; None with fewer than two measures."""
        return None if self.growth is None else (self.growth.at(years), self.growth.band(years))


@dataclass(frozen=True)
class Life:
    """Everything of one tree that has a day."""

    book: Book
    tree: Tree

    @once
    def events(self) -> tuple[Event, ...]:
        """The log, the oldest first."""
        return self.book.c.events_of(self.tree.id)

    @once
    def measures(self) -> tuple[tuple[date, Measure], ...]:
        """Dated measures, the oldest first."""
        return tuple(sorted(((m.taken, m) for m in self.tree.measures if m.taken is not None), key=lambda row: row[0]))

    def series(self, field: str) -> Series:
        """One measure along time."""
        rows = [(day, float(getattr(m, field)), m.how) for day, m in self.measures if getattr(m, field) is not None]
        if field not in KEPT_FIELDS:
            return Series(field, tuple((day, v) for day, v, _ in rows), None)
        years = [(day - rows[0][0]).days / DAYS_YEAR for day, _, _ in rows] if rows else []
        now = self.tree.measure
        usual = 0.0
        value = getattr(now, field)
        if value:
            later = getattr(grown(now, self.tree.stage, 1.0), field)
            usual = float(later / value - 1) if later else 0.0
        growth = growth_seen(years, [v for _, v, _ in rows], [h for _, _, h in rows], usual)
        return Series(field, tuple((day, v) for day, v, _ in rows), growth)

    @once
    def heights(self) -> Series:
        """Heights."""
        return self.series("height_mm")

    @once
    def trunks(self) -> Series:
        """Trunk diameters above the flare."""
        return self.series("trunk_diameter_mm")

    @once
    def stands(self) -> tuple[Stand, ...]:
        """The pots it stood in, in order; repottings into the same pot are one stay."""
        rows = sorted(
            (p for p in self.book.c.plantings if p.tree == self.tree.id and not p.planned and p.date is not None and p.pot in self.book.c.pots),
            key=lambda p: p.date or date.min,
        )  # fmt: skip
        found: list[Stand] = []
        for p in rows:
            assert p.date is not None
            pot = self.book.c.pots[p.pot]
            if found and found[-1].pot.id == pot.id:
                found[-1] = replace(found[-1], planting=p, last=p.ended)
                continue
            tree, measured = self.as_large_as(p.date)
            found.append(Stand(p, pot, p.date, p.ended, tree, measured))
        # where it stands now it is drawn as it is now
        if found and found[-1].last is None:
            found[-1] = replace(found[-1], tree=self.tree, measured=True)
        return tuple(found)

    def as_large_as(self, day: date) -> tuple[Tree, bool]:
        """(the tree with the measures of a day, whether somebody measured it about then).

        Between two measures sizes lie on a line; before the first one they are the first's, and not measured.
        """
        if not self.measures:
            return self.tree, False
        near = min(abs((taken - day).days) for taken, _ in self.measures) <= NEAR_DAYS
        sizes = {}
        for field in (*SIZES, *THICK):
            line = (
                self.series(field)
                if field not in KEPT_FIELDS
                else self.heights
                if field == "height_mm"
                else self.trunks
            )
            if not line.points:
                continue
            inside = line.at(day)
            sizes[field] = round(
                inside if inside is not None else line.points[0 if day < line.points[0][0] else -1][1], 1
            )
        high, now = sizes.get("height_mm"), self.tree.measure.height_mm
        if high is not None and now:
            # what nobody measured then is taken to have been in proportion
            for field in (*SIZES, *THICK):
                value = getattr(self.tree.measure, field)
                known = [d for d, m in self.measures if getattr(m, field) is not None]
                if value is not None and (not known or min(known) > day):
                    sizes[field] = round(value * high / now, 1)
        return self.tree.changed(measures=(self.tree.measure.changed(taken=day, **sizes),)), near

    @once
    def fillings(self) -> tuple[tuple[date, date | None, Filling, bool], ...]:
        """(from, until, curve, whether what was left of the roots is known) between repottings, the last one as the book has it."""
        now = self.book.standings.get(self.tree.id)
        species = self.book.species(self.tree)
        days = sorted({e.date for e in self.events if e.kind == "repotted"} | {s.first for s in self.stands})
        found: list[tuple[date, date | None, Filling, bool]] = []
        for n, first in enumerate(days):
            last = days[n + 1] if n + 1 < len(days) else None
            if last is None and now is not None and now.filling is not None and now.last == first:
                curve = filling(first, _first_share(now.filling, first), now.filling.rate)
                found.append((first, None, now.filling if now.filling.signs else curve, not now.assumed))
                continue
            stand = next((s for s in reversed(self.stands) if s.first <= first), None)
            if stand is None or species is None or species.leaf_area_index is None:
                continue
            tree, _ = self.as_large_as(first)
            crown = crown_area_m2(tree.measure)
            (soil,) = soils_l([(stand.planting, stand.pot)])
            if crown is None or soil is None:
                continue
            rate = filling_rate(
                care_classes()[species.class_key].root_rate_per_year, crown * species.leaf_area_index, soil
            )
            share = first_filling(KEPT_SHARE * soil, BOUND, soil)
            if stand.first == first and stand.planting.date is not None:
                before = next((s for s in self.stands if s.last == first), None)
                old = soils_l([(before.planting, before.pot)])[0] if before is not None else None
                # out of a smaller pot only so much came along
                share = first_filling(min(KEPT_SHARE * old, soil), BOUND, soil) if old is not None else share
            found.append((first, last, filling(first, share, rate), False))
        return tuple(found)

    @once
    def limit_share(self) -> float | None:
        """The largest feeder share of its species in the best season; None where that is not known."""
        return case_for(self.book.c, self.tree.id, today=self.book.today, season="best").cut_limit

    @property
    def span(self) -> tuple[date, date]:
        """From the first day of its life that is known to a few years from now."""
        days = [d for d, _ in self.measures] + [e.date for e in self.events] + [s.first for s in self.stands]
        days += [self.tree.acquired] if self.tree.acquired is not None else []
        past = [d for d in days if d <= self.book.today]
        first = min(past, default=later(self.book.today, -365))
        try:
            last = date(self.book.today.year + AHEAD_YEARS, 12, 31)
        except ValueError:
            last = date.max
        return date(first.year, 1, 1), last


def _first_share(curve: Filling, day: date) -> float:
    return min(max(curve.at(day), 0.05), 0.84) if curve.day != day else curve.share
