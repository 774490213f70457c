"""One planting thought through: place, ties, soil, cuts, order of the work, and what is to be said of it. Screen, sheet and command line read it here."""

from dataclasses import dataclass, field, replace
from datetime import date

from kesh.advice.assess import Assessment, Finding
from kesh.advice.kinds.kinds import worked_as
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.advice.kinds.registry import kind_for, special_plan
from kesh.advice.planting.cut_list import CutList, cuts_for
from kesh.advice.planting.findings import planting_findings
from kesh.advice.planting.order_of_work import order_of_work
from kesh.advice.planting.placing import lever
from kesh.advice.planting.rehearsal import Ready, ready_list
from kesh.advice.planting.soil_batch import Batch, soil_batch
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.tie_plan import TiePlan, tie_plan
from kesh.advice.roots.this_year import ThisYear, this_year
from kesh.advice.roots.work import plan_for
from kesh.advice.season.aftercare import CareRow, Done, by_views, steps_after
from kesh.base.once import once
from kesh.base.status import gravest_first
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.science.roots.filling import BOUND, HOLDS, filling_rate, first_filling, years_until
from kesh.science.roots.side_room import side_room_mm
from kesh.science.stand.placement import Lever
from kesh.science.stand.stability import crown_area_m2


@dataclass(frozen=True)
class PlantingPlan:
    """All parts of one planting, each worked out when it is first asked for."""

    a: Assessment
    u: Units
    today: date = field(default_factory=date.today)

    @once
    def special(self) -> SpecialPlan | None:
        """What is special about it: rock, tube, layer and the rest; None for a plain planting and a group."""
        planting = self.a.case.planting
        return None if planting is None else special_plan(Setting(self.a, planting, self.u, self.today))

    @once
    def ties(self) -> TiePlan | None:
        """What holds it."""
        return tie_plan(self.a)

    @once
    def batch(self) -> Batch | None:
        """What is filled in."""
        return soil_batch(self.a)

    @once
    def cuts(self) -> CutList | None:
        """What is cut."""
        return cuts_for(self.a, self.ties)

    @once
    def lever(self) -> Lever | None:
        """Balance along the pot."""
        return lever(self.a)

    @once
    def room_mm(self) -> Floats | None:
        """Room between roots and wall every 10 degrees; at fewer depths while something is moved."""
        f, roots = self.a.figures, self.a.case.roots
        if roots is None or f.roots is None:
            return None
        return side_room_mm(roots, f.pots, f.seat, f.roots, coarse=self.a.case.hurry)

    @once
    def holds_after_years(self) -> float | None:
        """Years until roots hold the tree without ties; None while crown, species or root mass are not known."""
        f, species = self.a.figures, self.a.case.species
        crown = crown_area_m2(self.a.case.tree.measure)
        if f.roots is None or species is None or species.leaf_area_index is None or crown is None:
            return None
        soil = float(f.fill_l[0]) + float(f.mound_l[0])
        if soil <= 0:
            return None
        first = first_filling(float(f.roots.kept_volume_l[0]), BOUND, soil)
        rate = filling_rate(self.a.case.care.root_rate_per_year, crown * species.leaf_area_index, soil)
        return years_until(HOLDS, first, rate)

    @once
    def ready(self) -> tuple[Ready, ...]:
        """What must lie there."""
        return ready_list(self.a, self.cuts, self.batch, self.u)

    @once
    def steps(self) -> tuple[WorkStep, ...]:
        """The work in order."""
        planting = self.a.case.planting
        if planting is None:
            return order_of_work(self.a, self.ties, self.batch, self.cuts, self.u)
        s = Setting(self.a, planting, self.u, self.today)
        kind = kind_for(s)
        return order_of_work(self.a, self.ties, self.batch, self.cuts, self.u, kind.order, kind.steps(s))

    @property
    def kind(self) -> str:
        """Which kind of planting it is."""
        return worked_as(self.a.case.planting, self.a.case.tree, self.a.case.species)

    @once
    def minutes(self) -> float:
        """Minutes with hands on it, in all."""
        return sum(s.minutes or 0.0 for s in self.steps)

    @once
    def bare_keys(self) -> frozenset[str]:
        """Steps during which roots lie bare: from the first soil that is taken off to the first that is put on."""
        found, bare = set(), False
        for step in self.steps:
            bare = bare or step.clock == "start"
            if step.clock == "end":
                bare = False
            if bare:
                found.add(step.key)
        return frozenset(found)

    @property
    def bare_minutes(self) -> float:
        """Minutes with bare roots."""
        return sum(s.minutes or 0.0 for s in self.steps if s.key in self.bare_keys)

    @once
    def this_year(self) -> ThisYear | None:
        """What this repotting takes off the roots; None while they are not known."""
        return this_year(self.a.figures)

    @property
    def feeders_share(self) -> float:
        """Share of the feeders that comes off now, by the pot and the root map together."""
        year = self.this_year
        if year is None or year.nothing:
            return 0.0
        plan = plan_for(self.a.figures)
        return year.share if plan is None else max(plan.share, year.share)

    def aftercare(self, *, cut: bool = True) -> tuple[CareRow, ...]:
        """What follows, from what is done to the roots; `cut` false where it was only slipped in."""
        case = self.a.case
        share = self.feeders_share if cut else 0.0
        bare = cut and case.brief.root_views.old_soil == "wash"
        rows = steps_after(case.species, Done(share, bare, self.ties is not None and bool(self.ties.wires)))
        found = by_views(rows, case.brief.season_views, case.brief.planting_views.feed)
        if self.special is None or not self.special.care:
            return found
        # what the kind says of a step comes before the table's
        own = {row.step for row in self.special.care}
        return (*(row for row in found if row.step not in own), *self.special.care)

    @once
    def findings(self) -> tuple[Finding, ...]:
        """What is to be said of place, ties and soil."""
        found = planting_findings(self.a, self.ties, self.lever, self.cuts, self.room_mm, self.ready, self.u)
        every = found if self.special is None else gravest_first((*self.special.findings, *found))
        return tuple(one.told(self.u) for one in every)

    @once
    def whole(self) -> Assessment:
        """The assessment with these findings beside its own, gravest first."""
        return replace(self.a, findings=gravest_first((*self.findings, *self.a.findings)))
