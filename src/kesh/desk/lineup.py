"""What the Line-up shows: pots held under one tree, what is right and wrong with each, and the rest of the shelf. No Qt."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.case import Case
from kesh.advice.finding import Part
from kesh.advice.planting.place import place_mm
from kesh.advice.rank import Ranked, Ranking
from kesh.advice.rules.handling import lift_alone_kg
from kesh.advice.rules.water import FOOT_FITS_H, LEAST_DAYS
from kesh.advice.rules.year import BORNE, NIGHTS_FIT
from kesh.advice.water.short import PotShort
from kesh.base.units import Units
from kesh.base.words import counted
from kesh.model import Collection, Lineup, Planting, Pot, Tree, Trial
from kesh.reference.grounds import ground_of
from kesh.science.season.season import MONTHS

MOST, FIRST = 6, 4
STATES = {"shelf": "Own shelf", "in_use": "In use", "wish": "Wished for", "ordered": "Ordered", "design": "Designs"}
WHERE = {
    "shelf": "own shelf",
    "in_use": "in use",
    "wish": "wished for",
    "ordered": "ordered",
    "design": "designed, not made",
}
PART_WORDS: dict[Part, str] = {
    "size": "Size",
    "depth": "Depth",
    "root_fit": "Roots",
    "water": "Water",
    "looks": "Looks",
    "handling": "Handling",
}


def ordinal(number: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    tail = "th" if 10 <= number % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{tail}"


def size_words(pot: Pot, units: Units) -> str:
    """Length, width and height, or a diameter, in the user's units."""
    u = units
    if pot.outline.kind == "round":
        return f"Ø {u.figure(pot.length_mm)} × {u.figure(pot.height_mm)}"
    return f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)} × {u.figure(pot.height_mm)}"


def kind_words(pot: Pot) -> str:
    """Finish and where the pot is; the outline is in sight."""
    finish = {"as_made": "plain", "muted_glaze": "quiet glaze"}.get(pot.finish, pot.finish.replace("_", " "))
    return f"{finish}, {WHERE[pot.state]}".capitalize()


@dataclass(frozen=True)
class Bar:
    """One measure of a column: its band and its figure."""

    words: str
    value: float | None
    low: float | None
    high: float | None
    unit: str

    @property
    def inside(self) -> bool:
        """Whether the figure lies in the band, or nothing can be said."""
        if self.value is None or self.low is None or self.high is None:
            return True
        return self.low - 1e-9 <= self.value <= self.high + 1e-9


@dataclass(frozen=True)
class Column:
    """One pot under the tree."""

    place: int
    entry: Ranked
    assessment: Assessment
    planting: Planting
    rejected: str
    taken_by: str

    @property
    def pot(self) -> Pot:
        """The pot."""
        return self.entry.pot

    @property
    def verdict(self) -> str:
        """fits, watch, no or unknown."""
        return self.entry.verdict

    def bars(self) -> tuple[Bar, ...]:
        """Depth, length and visual mass against the wanted bands."""
        bands, f = self.assessment.case.bands, self.assessment.figures
        mass = None if f.visual_ratio is None else round(float(f.visual_ratio[0]), 2)
        return (
            Bar("Depth", self.pot.inner_depth_mm, bands.depth.low, bands.depth.high, "mm"),
            Bar("Length", self.pot.length_mm, bands.length.low, bands.length.high, "mm"),
            Bar("Visual mass", mass, bands.visual_mass.low, bands.visual_mass.high, ""),
        )

    def reason(self) -> str:
        """The answer to `why not this one?` in a sentence or two."""
        if self.rejected:
            return f"Rejected: {self.rejected}"
        words = list(self.entry.misses[:2]) or ["inside every band"]
        text = "; ".join(words)
        if self.taken_by:
            text += f"; holds {self.taken_by}"
        return text[0].upper() + text[1:] + "."

    def beside(self) -> str:
        """What is no property of the pair: it was put back before, it holds another tree, it is kept for one."""
        if self.rejected:
            return f"Rejected: {self.rejected}"
        fact = f"holds {self.taken_by}" if self.taken_by else self.entry.fact
        return f"{fact[:1].upper()}{fact[1:]}." if fact else ""

    def stop_signs(self) -> tuple[str, ...]:
        """Sentences of the findings that should stop the work until somebody says why to go on."""
        return tuple(f.text for f in self.assessment.findings if f.code in self.entry.blockers)


def span_of(columns: tuple[Column, ...], index: int) -> tuple[float, float]:
    """One scale for a measure over all columns."""
    values = [
        v for c in columns for v in (c.bars()[index].value, c.bars()[index].low, c.bars()[index].high) if v is not None
    ]
    if not values:
        return 0.0, 1.0
    low, high = min(values), max(values)
    pad = 0.15 * (high - low or 1.0)
    return low - pad, high + pad


def none_fits(ranking: Ranking) -> str:
    """What is missing where no pot fits: the one thing that keeps most of them from it."""
    code, count = ranking.missing()
    if not code:
        return "none fits"
    return f"none fits, {counted(count, 'pot')} but for {ground_of(code).title[:1].lower()}{ground_of(code).title[1:]}"


def trial_for(case: Case, pot: Pot) -> Trial:
    """As near the school's place for the trunk as the roots allow."""
    x, y = place_mm(case, pot)
    return Trial(pot=pot.id, offset_x_mm=x, offset_y_mm=y)


def first_lineup(tree: Tree, case: Case, ranking: Ranking, count: int = FIRST) -> Lineup:
    """The best few of the shelf, for a tree under which nothing was held yet; pots that hold other trees come last."""
    entries = [ranking.entry(i) for i in range(min(len(ranking), 40))]
    free = [e for e in entries if e.pot.id not in case.taken and e.pot.id not in case.rejected]
    chosen = (free + [e for e in entries if e not in free])[:count]
    return Lineup(
        id=tree.id, pots=tuple(e.pot.id for e in chosen), trials=tuple(trial_for(case, e.pot) for e in chosen)
    )


def with_pot(lineup: Lineup, case: Case, pot: Pot) -> Lineup:
    """The line-up with a pot added at the end; the oldest unchosen one makes room when it is full."""
    if pot.id in lineup.pots:
        return lineup
    pots = [*lineup.pots]
    if len(pots) >= MOST:
        pots.remove(next(p for p in pots if p != lineup.chosen))
    kept = tuple(t for t in lineup.trials if t.pot != pot.id)
    return lineup.changed(pots=(*pots, pot.id), trials=(*kept, trial_for(case, pot)))


def without_pot(lineup: Lineup, pot: str) -> Lineup:
    """The line-up with a pot put back."""
    chosen = None if lineup.chosen == pot else lineup.chosen
    trials = tuple(t for t in lineup.trials if t.pot != pot)
    return lineup.changed(pots=tuple(p for p in lineup.pots if p != pot), trials=trials, chosen=chosen)


def with_offset(lineup: Lineup, pot: str, x_mm: float | None = None, y_mm: float | None = None) -> Lineup:
    """The line-up with the trunk moved in one pot, sideways, to the back, or both."""
    old = next((t for t in lineup.trials if t.pot == pot), Trial(pot=pot))
    given = {"offset_x_mm": x_mm, "offset_y_mm": y_mm}
    moved = old.changed(**{name: round(mm, 1) for name, mm in given.items() if mm is not None})
    return lineup.changed(trials=(*(t for t in lineup.trials if t.pot != pot), moved))


@dataclass(frozen=True)
class LineupState:
    """Columns left to right and what is held back, nearest first."""

    tree: Tree
    lineup: Lineup
    columns: tuple[Column, ...]
    ranking: Ranking
    places: dict[str, int]
    make: Callable[[str], Column | None]

    def column(self, pot: str) -> Column | None:
        """The pot as it is judged under the tree, whether it is in the line-up or not; None where it does not stand here."""
        return next((c for c in self.columns if c.pot.id == pot), None) or self.make(pot)

    def held_back(self, states: frozenset[str] | None = None, most: int = 60) -> list[Ranked]:
        """Pots that are not in the line-up, best first, of the states shown."""
        standing = {c.pot.id for c in self.columns}
        pots = self.ranking.figures.pots.pots
        found: list[Ranked] = []
        for place in range(len(self.ranking)):
            pot = pots[int(self.ranking.order[place])]
            if pot.id not in standing and (states is None or pot.state in states):
                found.append(self.ranking.entry(place))
                if len(found) >= most:
                    break
        return found

    def come_since(self, most: int = 3) -> tuple[Pot, ...]:
        """Pots of one's own shelf that come before all that are held under the tree: they came, or were freed, after it was chosen."""
        if not self.columns:
            return ()
        before = min(self.places[c.pot.id] for c in self.columns) - 1
        pots = self.ranking.figures.pots.pots
        first = (pots[int(i)] for i in self.ranking.order[:before])
        return tuple(pot for pot in first if pot.state == "shelf")[:most]

    def count(self, state: str) -> int:
        """Pots of one state on the whole shelf."""
        return sum(pot.state == state for pot in self.ranking.figures.pots.pots)


def lineup_state(
    collection: Collection,
    tree: Tree,
    case: Case,
    ranking: Ranking,
    lineup: Lineup,
    assess_in: Callable[[Pot], Assessment],
    entry_of: Callable[[Pot], Ranked],
) -> LineupState:
    """Put the columns together. `assess_in` and `entry_of` judge the tree in a pot of the line-up as it stands now."""
    order = [ranking.figures.pots.pots[int(i)].id for i in ranking.order]
    places = {key: i + 1 for i, key in enumerate(order)}

    def column(key: str) -> Column | None:
        pot = collection.pots.get(key)
        if pot is None or key not in places:
            return None
        a = assess_in(pot)
        planting = Planting(
            id="trial",
            tree=tree.id,
            pot=key,
            offset_x_mm=a.seat.x_mm,
            offset_y_mm=a.seat.y_mm,
            raise_mm=a.seat.raise_mm,
        )
        return Column(places[key], entry_of(pot), a, planting, case.rejected.get(key, ""), case.taken.get(key, ""))

    columns = tuple(made for key in lineup.pots if (made := column(key)) is not None)
    return LineupState(tree, lineup, columns, ranking, places, column)


@dataclass(frozen=True)
class MeasureLine:
    """A line of the comparison: status, what, this pot's figure, what is asked for."""

    status: str
    words: str
    this: str
    asked: str


def measure_lines(column: Column, units: Units, year: PotShort | None = None) -> tuple[MeasureLine, ...]:
    """The measures growers compare first, each with what is asked for."""
    a, u = column.assessment, units
    f, bands, pot = a.figures, a.case.bands, column.pot

    def line(code: str, words: str, this: str | None, asked: str) -> MeasureLine:
        finding = a.finding(code)
        status = finding.status if finding else "unknown"
        return MeasureLine(status if this is not None else "unknown", words, this or "……", asked)

    def band(low: float | None, high: float | None) -> str:
        return "……" if low is None or high is None else f"{u.figure(low)}–{u.figure(high)}"

    off = None if f.roots is None else float(f.roots.off_bottom_mm[0])
    share = None if f.roots is None else float(f.roots.removed_feeder_share[0])
    limit, mass = a.case.limit_share, f.visual_ratio
    wet = None if f.water is None or not f.plantable[0] else f.water
    foot, stand = f.wet_foot_h, f.stand
    depth = a.finding("root_depth")
    ordinary = "……" if depth is None or depth.high is None else f"≤ {u.figure(depth.high)}"
    low, high = bands.visual_mass.low, bands.visual_mass.high
    found = (
        line("depth_band", f"Depth inside, {unit_word(u)}", u.figure(pot.inner_depth_mm), band(bands.depth.low, bands.depth.high)),
        line("length_band", f"Length, {unit_word(u)}", u.figure(pot.length_mm), band(bands.length.low, bands.length.high)),
        line("width_band", f"Width, {unit_word(u)}", u.figure(pot.width_mm), band(bands.width.low, bands.width.high)),
        line("visual_mass", "Visual mass", None if mass is None else f"{mass[0]:.2f}", f"{low:.2f}–{high:.2f}"),
        line("root_depth", f"Off the bottom, {unit_word(u)}", None if off is None else u.figure(off), ordinary),
        line(
            "root_removal",
            "Feeder roots off",
            None if share is None else f"{share:.0%}",
            "……" if limit is None else f"≤ {limit:.0%}",
        ),
        line("wet_share", "Stays wet", None if wet is None else f"{wet.wet_share[0]:.0%}", "≤ 40%"),
        line("wet_foot", "Wet foot, growing", None if foot is None or not np.isfinite(foot[0]) else f"{foot[0]:.0f} h", f"≤ {FOOT_FITS_H:.0f} h"),
        line("tipping", "Tips over at", None if stand is None else f"{stand.tip_angle_deg[0]:.0f}°", "≥ 20°"),
        line(
            "lift_mass",
            f"Planted and wet, {u.mass}",
            None if stand is None else u.kg(float(stand.mass_wet_kg[0])).split()[0],
            "……" if stand is None else f"≤ {u.kg(float(lift_alone_kg(f)[0])).split()[0]}",
        ),
    )  # fmt: skip
    return found if year is None else (*found, *year_lines(year))


def year_lines(year: PotShort) -> tuple[MeasureLine, ...]:
    """What the years say of it."""
    return (
        MeasureLine(
            "fits" if year.gap_days >= LEAST_DAYS else "watch",
            f"Lasts in {MONTHS[year.month]}, days",
            f"{year.gap_days:.1f}",
            f"≥ {LEAST_DAYS:g}",
        ),
        MeasureLine(
            year.summer, f"Years of distress, of {year.years}", f"{year.distress_years}", f"≤ {BORNE * year.years:.0f}"
        ),
        MeasureLine(
            year.winter,
            "Nights at risk a year",
            "……" if year.nights is None else f"{year.nights:.1f}",
            f"≤ {NIGHTS_FIT:g}",
        ),
    )


def unit_word(units: Units) -> str:
    """The length unit as written on screen."""
    return "in" if units.length == "inch" else units.length
