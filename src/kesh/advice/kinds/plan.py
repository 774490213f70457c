"""What a special planting comes to: figures, findings, steps, cuts, stages with dates, drawings. Screen, sheet and command line read it here."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date

from kesh.advice.assess import Assessment, Finding
from kesh.advice.season.aftercare import CareRow
from kesh.base.units import Units
from kesh.figure.overlay import Overlay
from kesh.model import Planting
from kesh.science.stand.stability import green_mass_kg


@dataclass(frozen=True)
class Figure:
    """One figure of the plan in words, with its status where it is judged."""

    label: str
    text: str
    status: str = ""
    tip: str = ""


@dataclass(frozen=True)
class SpecialCut:
    """Something that is cut: `pieces_mm` along its length, so many of it, of what and how thick; `total_mm` of one."""

    name: str
    what: str
    total_mm: float
    pieces_mm: tuple[float, ...] = ()
    gauge_mm: float = 0.0
    metal: str = ""
    count: int = 1
    note: str = ""


@dataclass(frozen=True)
class Stage:
    """One stage over the years: title, its day or None, the sign that decides, and what is seen then."""

    title: str
    day: date | None
    sign: str
    shows: str = ""
    front: Overlay = field(default_factory=Overlay)


@dataclass(frozen=True)
class SpecialPlan:
    """All of one kind."""

    kind: str
    title: str
    figures: tuple[Figure, ...] = ()
    findings: tuple[Finding, ...] = ()
    cuts: tuple[SpecialCut, ...] = ()
    stages: tuple[Stage, ...] = ()
    front: Overlay = field(default_factory=Overlay)
    above: Overlay = field(default_factory=Overlay)
    care: tuple[CareRow, ...] = ()


@dataclass(frozen=True)
class Setting:
    """What a kind is reckoned from."""

    a: Assessment
    planting: Planting
    u: Units
    today: date

    @property
    def foot(self) -> tuple[float, float]:
        """The trunk's foot in the front view: from the pot's middle, over the bench, mm."""
        return self.planting.offset_x_mm, self.a.pot.height_mm + self.planting.raise_mm

    @property
    def soil_mm(self) -> float:
        """The soil line over the bench, mm."""
        pot = self.a.pot
        return pot.height_mm if pot.profile.kind == "slab" else pot.height_mm - self.a.case.headspace_mm

    @property
    def floor_mm(self) -> float:
        """The inner floor over the bench, mm."""
        return self.a.pot.feet_mm + self.a.pot.floor_mm

    @property
    def day(self) -> date:
        """The day of the planting, or today while it is only planned."""
        return self.planting.date or self.today

    @property
    def tree_kg(self) -> float | None:
        """Mass of the tree above the soil: weighed, or from its measures; None while these are missing."""
        m = self.a.case.tree.measure
        if m.mass_kg is not None:
            return m.mass_kg
        if m.height_mm is None or m.trunk_diameter_mm is None:
            return None
        return green_mass_kg(m.height_mm, m.trunk_diameter_mm)


Make = Callable[[Setting], SpecialPlan]


def finding(
    code: str, status: str, text: str, remedy: str = "", value: float | None = None, unit: str = "", low: float | None = None,
    high: float | None = None, source: str = "docs/methods.md, special plantings",
) -> Finding:  # fmt: skip
    """A finding of a special planting."""
    return Finding(code, status, value, unit, low, high, text, remedy, source, "handling", text.rstrip("."))


def nothing_yet(kind: str, title: str, code: str, text: str, remedy: str) -> SpecialPlan:
    """The plan of a kind whose record is still empty: one finding that says how to begin."""
    return SpecialPlan(kind, title, findings=(finding(code, "unknown", text, remedy),))


def care(step: str, first: int, last: int, text: str, sign: str, why: str = "", *, order: int = 50) -> CareRow:
    """A step of aftercare that only this kind has; days from the planting."""
    return CareRow(
        key=f"{step}_special", group="all", severity="any", step=step, step_order=order, count_from="repotting", start_day=first, end_day=last,
        instruction=text, end_early_when=sign, why=why,
    )  # fmt: skip


def months(day: date) -> str:
    """March 2027."""
    return f"{day:%B %Y}"
